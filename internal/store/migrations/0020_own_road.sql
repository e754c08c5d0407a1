-- What students say themselves on their own page: steps they ticked, what they have at home,
-- how they judge themselves, the two questions at the end.
CREATE TABLE IF NOT EXISTS own_marks (
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  what VARCHAR(40) NOT NULL,
  value VARCHAR(1000) NOT NULL,
  PRIMARY KEY (project_id, student_id, what),
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);

-- Links by which a helper at home looks at one stage of one student: of the link the hash
-- alone is kept.
CREATE TABLE IF NOT EXISTS helper_links (
  hash BINARY(32) NOT NULL PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  student_id BIGINT UNSIGNED NOT NULL,
  stage VARCHAR(20) NOT NULL,
  until DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  FOREIGN KEY (student_id) REFERENCES students (id) ON DELETE CASCADE
);
