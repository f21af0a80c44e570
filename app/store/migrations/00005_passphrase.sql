-- +goose Up
-- What a passphrase is checked against, for servers that are reached from beyond their own machine; at most one.
CREATE TABLE passphrase (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  hash VARCHAR(100) NOT NULL
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE passphrase;
