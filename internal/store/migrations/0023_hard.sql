-- How hard a picture is to copy, as it was measured; and the boxes that a student draws
-- instead of all, from the first to the last.
ALTER TABLE pictures ADD COLUMN IF NOT EXISTS hard JSON NULL;
ALTER TABLE assignments ADD COLUMN IF NOT EXISTS part VARCHAR(20) NOT NULL DEFAULT '';
