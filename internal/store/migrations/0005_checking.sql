ALTER TABLE landmarks ADD COLUMN class VARCHAR(8) NOT NULL DEFAULT '';

ALTER TABLE projects ADD COLUMN compare_with VARCHAR(8) NOT NULL DEFAULT '';

ALTER TABLE check_ins
  ADD COLUMN report MEDIUMTEXT NULL,
  ADD COLUMN plan_sum INT UNSIGNED NOT NULL DEFAULT 0,
  ADD KEY by_student (project_id, student_id, id);

CREATE TABLE strays (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  picture_id BIGINT UNSIGNED NOT NULL,
  words VARCHAR(300) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_project (project_id, id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES pictures (id) ON DELETE CASCADE
);
