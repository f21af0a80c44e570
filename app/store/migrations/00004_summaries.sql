-- +goose Up
-- What the shelf shows of a light at a revision, and which state of the solver made it: written anew where either
-- is older than what there is.
CREATE TABLE summaries (
  light_id CHAR(16) NOT NULL PRIMARY KEY,
  revision INT UNSIGNED NOT NULL,
  solver INT UNSIGNED NOT NULL,
  body LONGTEXT NOT NULL,
  CONSTRAINT summary_of FOREIGN KEY (light_id) REFERENCES lights (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE summaries;
