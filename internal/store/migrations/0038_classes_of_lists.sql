-- How a school's own system knows a class.
ALTER TABLE classes ADD COLUMN IF NOT EXISTS outside_id VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL;
