-- Class sets and photos to be measured are jobs of one table, with one file each.
RENAME TABLE IF EXISTS print_jobs TO jobs, print_files TO job_files;
ALTER TABLE jobs
  ADD COLUMN IF NOT EXISTS kind VARCHAR(10) NOT NULL DEFAULT 'set',
  ADD COLUMN IF NOT EXISTS urgent BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS hash BINARY(32) NULL,
  ADD COLUMN IF NOT EXISTS result JSON NULL,
  ADD UNIQUE KEY IF NOT EXISTS one_photo (project_id, hash),
  ADD KEY IF NOT EXISTS by_turn (state, urgent, id);
ALTER TABLE changes ADD COLUMN IF NOT EXISTS job_id BIGINT UNSIGNED NOT NULL DEFAULT 0;

-- Wrong tries of late, by whom or whence; the names are hashed.
CREATE TABLE IF NOT EXISTS wrong_tries (
  hash BINARY(32) NOT NULL PRIMARY KEY,
  free DOUBLE NOT NULL,
  wrong INT NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_at (at)
);

ALTER TABLE schools ADD COLUMN IF NOT EXISTS address VARCHAR(200) NOT NULL DEFAULT '';

-- Words that open a class's pages for a lesson, typed on a tablet.
CREATE TABLE IF NOT EXISTS lesson_codes (
  code CHAR(6) NOT NULL PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  class_id BIGINT UNSIGNED NOT NULL,
  until DATETIME(3) NOT NULL,
  UNIQUE KEY one (project_id, class_id),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
);

-- Certificates by ACME and what belongs to them, the same for every copy of the program.
CREATE TABLE IF NOT EXISTS certificates (
  name VARCHAR(190) NOT NULL PRIMARY KEY,
  bytes MEDIUMBLOB NOT NULL
);
