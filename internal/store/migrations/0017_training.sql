-- What exercises of the eye told, one row for each; done_at is the tablet's own time, by
-- which one that is sent twice is one.
CREATE TABLE IF NOT EXISTS trainings (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  kind VARCHAR(12) NOT NULL,
  done_at DATETIME(3) NOT NULL,
  result JSON NOT NULL,
  PRIMARY KEY (project_id, student_id, kind, done_at),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);
