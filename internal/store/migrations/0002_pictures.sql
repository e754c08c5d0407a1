ALTER TABLE pictures
  ADD COLUMN IF NOT EXISTS purpose VARCHAR(10) NOT NULL DEFAULT 'reference',
  ADD COLUMN IF NOT EXISTS tags VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS difficulty TINYINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS facts JSON NULL;

UPDATE pictures SET purpose = 'photo' WHERE id IN (SELECT picture_id FROM check_ins);

CREATE TABLE IF NOT EXISTS project_pictures (
  project_id BIGINT UNSIGNED NOT NULL,
  picture_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (project_id, picture_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES pictures (id) ON DELETE CASCADE
);

INSERT IGNORE INTO project_pictures (project_id, picture_id) SELECT id, picture_id FROM projects WHERE picture_id IS NOT NULL;

CREATE TABLE IF NOT EXISTS frames (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  picture_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(40) NOT NULL,
  frame VARCHAR(120) NOT NULL,
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES pictures (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS assignments (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  picture_id BIGINT UNSIGNED NULL,
  frame_id BIGINT UNSIGNED NULL,
  PRIMARY KEY (project_id, student_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES pictures (id) ON DELETE SET NULL,
  FOREIGN KEY (frame_id) REFERENCES frames (id) ON DELETE SET NULL
);

ALTER TABLE landmarks
  ADD COLUMN IF NOT EXISTS picture_id BIGINT UNSIGNED NULL,
  ADD CONSTRAINT landmarks_of_picture FOREIGN KEY IF NOT EXISTS (picture_id) REFERENCES pictures (id) ON DELETE CASCADE;

UPDATE landmarks SET picture_id = (SELECT picture_id FROM projects WHERE projects.id = landmarks.project_id);
