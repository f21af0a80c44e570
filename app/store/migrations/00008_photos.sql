-- +goose Up
-- Photos of a light at the bench, each of a sitting or of the one that is open.
CREATE TABLE photos (
  id CHAR(16) NOT NULL PRIMARY KEY,
  light_id CHAR(16) NOT NULL,
  sitting VARCHAR(140) NOT NULL,
  caption VARCHAR(300) NOT NULL,
  kind VARCHAR(16) NOT NULL,
  data MEDIUMBLOB NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY of_light (light_id, created_at),
  FOREIGN KEY (light_id) REFERENCES lights (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE photos;
