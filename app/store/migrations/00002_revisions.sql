-- +goose Up
-- A revision is never rewritten. undo_to is the revision whose document stands
-- again after an undo, redo_to after a redo; tab is who made the edit that an undo
-- would take back.
CREATE TABLE revisions (
  light_id CHAR(16) NOT NULL,
  seq INT UNSIGNED NOT NULL,
  document LONGTEXT NOT NULL,
  label VARCHAR(120) NOT NULL,
  tab VARCHAR(64) NOT NULL,
  undo_to INT UNSIGNED NULL,
  redo_to INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (light_id, seq),
  CONSTRAINT revision_of FOREIGN KEY (light_id) REFERENCES lights (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- +goose Down
DROP TABLE revisions;
