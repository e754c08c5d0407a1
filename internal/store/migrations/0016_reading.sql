-- From which step a project's students are helped to see what is in a box, and the finest
-- fraction that is used in words.
ALTER TABLE projects ADD COLUMN IF NOT EXISTS help VARCHAR(12) NOT NULL DEFAULT '';
ALTER TABLE projects ADD COLUMN IF NOT EXISTS finest VARCHAR(12) NOT NULL DEFAULT '';

-- How far students were helped in each box: the furthest step.
CREATE TABLE IF NOT EXISTS helps (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  label VARCHAR(16) NOT NULL,
  help VARCHAR(12) NOT NULL,
  helped_at DATETIME(3) NOT NULL,
  PRIMARY KEY (project_id, student_id, label),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

-- What is shown of a box in front of a class, and that a change is about it.
CREATE TABLE IF NOT EXISTS demonstrations (
  project_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  box VARCHAR(16) NOT NULL,
  step INT NOT NULL,
  upside BOOLEAN NOT NULL,
  covered BOOLEAN NOT NULL,
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);
ALTER TABLE changes ADD COLUMN IF NOT EXISTS about VARCHAR(16) NOT NULL DEFAULT '';
