-- Where a student sits, counted from the front and from the left; nothing where nobody said.
ALTER TABLE students ADD COLUMN IF NOT EXISTS seat_row TINYINT UNSIGNED NULL;
ALTER TABLE students ADD COLUMN IF NOT EXISTS seat_column TINYINT UNSIGNED NULL;
