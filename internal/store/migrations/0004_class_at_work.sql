ALTER TABLE students
  ADD COLUMN IF NOT EXISTS outside_id VARCHAR(80) NULL,
  ADD COLUMN IF NOT EXISTS team VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS pace VARCHAR(6) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS home VARCHAR(120) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS needs VARCHAR(120) NOT NULL DEFAULT '',
  ADD UNIQUE KEY IF NOT EXISTS one_outside_id (class_id, outside_id);

CREATE TABLE IF NOT EXISTS project_classes (
  project_id BIGINT UNSIGNED NOT NULL,
  class_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (project_id, class_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
);

INSERT IGNORE INTO project_classes (project_id, class_id) SELECT id, class_id FROM projects WHERE class_id IS NOT NULL;

ALTER TABLE projects ADD COLUMN IF NOT EXISTS road JSON NULL;

CREATE TABLE IF NOT EXISTS stage_records (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  stage VARCHAR(10) NOT NULL,
  done_at DATETIME(3) NOT NULL,
  PRIMARY KEY (project_id, student_id, stage),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS verdicts (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  stage VARCHAR(10) NOT NULL,
  verdict VARCHAR(12) NOT NULL,
  by_whom VARCHAR(60) NOT NULL,
  note VARCHAR(300) NOT NULL DEFAULT '',
  seen BIGINT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY one_after (project_id, student_id, stage, seen),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS seats (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  hand_at DATETIME(3) NULL,
  flag VARCHAR(120) NOT NULL DEFAULT '',
  PRIMARY KEY (project_id, student_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS absences (
  student_id BIGINT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  PRIMARY KEY (student_id, day),
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS notes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NULL,
  words VARCHAR(1000) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_project (project_id, id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS changes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_project (project_id, created_at),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS calendars (
  class_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  calendar JSON NOT NULL,
  feed CHAR(26) NOT NULL,
  UNIQUE KEY one_feed (feed),
  FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS tick_history (
  project_id BIGINT UNSIGNED NOT NULL,
  plan_version INT NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  label VARCHAR(8) NOT NULL,
  ticked_at DATETIME(3) NOT NULL,
  PRIMARY KEY (project_id, plan_version, student_id, label),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS reached (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  objective VARCHAR(20) NOT NULL,
  PRIMARY KEY (project_id, student_id, objective),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS cupboard (
  teacher_id BIGINT UNSIGNED NOT NULL,
  item VARCHAR(60) NOT NULL,
  have INT NOT NULL,
  price_cents INT NOT NULL,
  PRIMARY KEY (teacher_id, item),
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);

ALTER TABLE notes
  ADD COLUMN IF NOT EXISTS picture_id BIGINT UNSIGNED NULL,
  ADD CONSTRAINT notes_of_picture FOREIGN KEY IF NOT EXISTS (picture_id) REFERENCES pictures (id) ON DELETE SET NULL;
