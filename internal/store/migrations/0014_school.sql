ALTER TABLE schools
  ADD COLUMN IF NOT EXISTS units VARCHAR(4) NOT NULL DEFAULT 'in',
  ADD COLUMN IF NOT EXISTS paper VARCHAR(20) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS currency VARCHAR(8) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS dates VARCHAR(12) NOT NULL DEFAULT 'en_GB',
  ADD COLUMN IF NOT EXISTS photo_months INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS note_months INT NOT NULL DEFAULT 0;

ALTER TABLE teachers
  ADD COLUMN IF NOT EXISTS admin BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS disabled_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS units VARCHAR(4) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS paper VARCHAR(20) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS second_secret VARCHAR(64) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS second_step BIGINT NOT NULL DEFAULT 0,
  DROP COLUMN IF EXISTS entries;

-- A school that has nobody to look after it gets its first teacher for that.
UPDATE teachers JOIN (SELECT MIN(id) AS id FROM teachers GROUP BY school_id HAVING MAX(admin) = 0) AS firsts ON firsts.id = teachers.id SET teachers.admin = TRUE;

CREATE TABLE IF NOT EXISTS sign_ins (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  teacher_id BIGINT UNSIGNED NOT NULL,
  browser VARCHAR(60) NOT NULL,
  address VARCHAR(45) NOT NULL,
  started_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  KEY by_seen (seen_at),
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS recovery_words (
  teacher_id BIGINT UNSIGNED NOT NULL,
  hash BINARY(32) NOT NULL,
  PRIMARY KEY (teacher_id, hash),
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS invitations (
  hash BINARY(32) NOT NULL PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  school_id BIGINT UNSIGNED NULL,
  teacher_id BIGINT UNSIGNED NULL,
  by_id BIGINT UNSIGNED NULL,
  name VARCHAR(80) NOT NULL,
  email VARCHAR(190) NOT NULL,
  admin BOOLEAN NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  FOREIGN KEY (school_id) REFERENCES schools (id) ON DELETE CASCADE,
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE,
  FOREIGN KEY (by_id) REFERENCES teachers (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS shares (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NULL,
  class_id BIGINT UNSIGNED NULL,
  teacher_id BIGINT UNSIGNED NOT NULL,
  level TINYINT NOT NULL,
  from_day DATE NULL,
  until_day DATE NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY one_project (project_id, teacher_id),
  UNIQUE KEY one_class (class_id, teacher_id),
  KEY by_teacher (teacher_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE,
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS deeds (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  school_id BIGINT UNSIGNED NOT NULL,
  teacher_id BIGINT UNSIGNED NULL,
  who VARCHAR(80) NOT NULL,
  address VARCHAR(45) NOT NULL,
  deed VARCHAR(80) NOT NULL,
  project_id BIGINT UNSIGNED NOT NULL,
  class_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_school (school_id, id),
  KEY by_at (at),
  KEY by_project (project_id, id),
  FOREIGN KEY (school_id) REFERENCES schools (id) ON DELETE CASCADE
);

-- How heavy the boxes of a plan over its picture are: reckoned again where it is not there.
CREATE TABLE IF NOT EXISTS box_weights (
  project_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  plan_version INT NOT NULL,
  picture_id BIGINT UNSIGNED NOT NULL,
  weights MEDIUMTEXT NOT NULL,
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

ALTER TABLE notes ADD COLUMN IF NOT EXISTS by_whom VARCHAR(80) NOT NULL DEFAULT '';

ALTER TABLE projects ADD COLUMN IF NOT EXISTS printed_at DATETIME(3) NULL;

-- Whoever has finished class sets has printed.
UPDATE projects SET printed_at = updated_at WHERE printed_at IS NULL AND id IN (SELECT project_id FROM print_jobs WHERE state = 'done');
