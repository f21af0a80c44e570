-- +goose Up
CREATE TABLE lights (
  id CHAR(16) NOT NULL PRIMARY KEY,
  head INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  progress VARCHAR(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  KEY shelf (deleted_at, updated_at)
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE lights;
