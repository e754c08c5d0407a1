-- A picture that a student took from their own seat: it ends with them, and with the
-- project it was taken for.
ALTER TABLE pictures
  ADD COLUMN IF NOT EXISTS student_id BIGINT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS project_id BIGINT UNSIGNED NULL,
  ADD CONSTRAINT pictures_of_student FOREIGN KEY IF NOT EXISTS (student_id) REFERENCES students (id) ON DELETE CASCADE,
  ADD CONSTRAINT pictures_of_project FOREIGN KEY IF NOT EXISTS (project_id) REFERENCES projects (id) ON DELETE CASCADE;

-- One of several pictures of a thing, or of a pair that hangs together: two points
-- pressed on it, in its pixels, say where the common lines run.
CREATE TABLE IF NOT EXISTS views (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
  project_id BIGINT UNSIGNED NOT NULL,
  picture_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  top_x DOUBLE NOT NULL,
  top_y DOUBLE NOT NULL,
  bottom_x DOUBLE NOT NULL,
  bottom_y DOUBLE NOT NULL,
  pressed BOOLEAN NOT NULL DEFAULT FALSE,
  PRIMARY KEY (id),
  KEY views_of_project (project_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES pictures (id) ON DELETE CASCADE
);
ALTER TABLE projects ADD COLUMN IF NOT EXISTS pair BOOLEAN NOT NULL DEFAULT FALSE;
