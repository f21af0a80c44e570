-- +goose Up
-- What loggers wrote down at the bench, in chunks with a summary each: a chart reads the coarsest that fills it.
CREATE TABLE logs (
  id CHAR(16) NOT NULL PRIMARY KEY,
  light_id CHAR(16) NOT NULL,
  name VARCHAR(120) NOT NULL,
  channels JSON NOT NULL,
  readings INT UNSIGNED NOT NULL,
  seconds DOUBLE NOT NULL,
  aside JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY of_light (light_id, created_at),
  FOREIGN KEY (light_id) REFERENCES lights (id) ON DELETE CASCADE
) ENGINE=InnoDB;
CREATE TABLE log_chunks (
  log_id CHAR(16) NOT NULL,
  number INT UNSIGNED NOT NULL,
  from_s DOUBLE NOT NULL,
  to_s DOUBLE NOT NULL,
  summary JSON NOT NULL,
  data MEDIUMBLOB NOT NULL,
  PRIMARY KEY (log_id, number),
  FOREIGN KEY (log_id) REFERENCES logs (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE log_chunks;
DROP TABLE logs;
