-- +goose Up
-- A part on hand. revision counts its changes, so that one made on an old state is
-- refused; lights hold copies and are not touched by it.
CREATE TABLE cabinet (
  id CHAR(16) NOT NULL PRIMARY KEY,
  revision INT UNSIGNED NOT NULL,
  kind VARCHAR(16) NOT NULL,
  name VARCHAR(120) NOT NULL,
  stock INT NOT NULL,
  document LONGTEXT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  KEY shelf (deleted_at, kind, name)
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE cabinet;
