-- +goose Up
-- A log that is being written: who writes it holds a lease, its newest readings lie by themselves until they fill a chunk.
ALTER TABLE logs
  ADD COLUMN state VARCHAR(8) NOT NULL DEFAULT 'kept',
  ADD COLUMN live JSON NULL,
  ADD COLUMN marks JSON NOT NULL DEFAULT '[]',
  ADD COLUMN owner CHAR(16) NULL,
  ADD COLUMN lease_until DATETIME(6) NULL,
  ADD KEY to_write (state, lease_until);
CREATE TABLE log_readings (
  log_id CHAR(16) NOT NULL,
  seq INT UNSIGNED NOT NULL,
  s DOUBLE NOT NULL,
  data VARBINARY(128) NOT NULL,
  PRIMARY KEY (log_id, seq),
  FOREIGN KEY (log_id) REFERENCES logs (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE log_readings;
ALTER TABLE logs DROP KEY to_write, DROP COLUMN lease_until, DROP COLUMN owner, DROP COLUMN marks, DROP COLUMN live, DROP COLUMN state;
