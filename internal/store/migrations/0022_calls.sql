-- What a teacher calls to a class at work: words such as “Pencils down”, and a time that runs.
CREATE TABLE IF NOT EXISTS calls (
  project_id BIGINT UNSIGNED NOT NULL,
  class_id BIGINT UNSIGNED NOT NULL,
  words VARCHAR(80) NOT NULL,
  until DATETIME(3) NULL,
  PRIMARY KEY (project_id, class_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
);
