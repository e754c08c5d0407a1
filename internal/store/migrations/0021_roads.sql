-- A stage has a name of its own, by which a road may have two of a kind.
ALTER TABLE stage_records MODIFY COLUMN stage VARCHAR(24) NOT NULL;
ALTER TABLE verdicts MODIFY COLUMN stage VARCHAR(24) NOT NULL;
ALTER TABLE helper_links MODIFY COLUMN stage VARCHAR(24) NOT NULL;
ALTER TABLE own_marks MODIFY COLUMN what VARCHAR(48) NOT NULL;

-- Roads that teachers keep for projects to come.
CREATE TABLE IF NOT EXISTS own_roads (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  teacher_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(60) NOT NULL,
  road JSON NOT NULL,
  UNIQUE KEY one_name (teacher_id, name),
  FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);
