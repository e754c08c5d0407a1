-- What a school has of each material, and what one costs: its teachers' cupboards put
-- together, at the dearest price any of them kept.
CREATE TABLE IF NOT EXISTS stocks (
  school_id BIGINT UNSIGNED NOT NULL,
  item VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  have INT NOT NULL,
  price_cents INT NOT NULL,
  PRIMARY KEY (school_id, item),
  FOREIGN KEY (school_id) REFERENCES schools (id) ON DELETE CASCADE
);

INSERT IGNORE INTO stocks (school_id, item, have, price_cents)
  SELECT t.school_id, c.item, SUM(c.have), MAX(c.price_cents)
  FROM cupboard c JOIN teachers t ON t.id = c.teacher_id
  GROUP BY t.school_id, c.item;
