-- Which lines of a picture its boxes are read by: those a hand would draw, or the borders of
-- its tones.
ALTER TABLE projects ADD COLUMN IF NOT EXISTS read_by VARCHAR(12) NOT NULL DEFAULT '';
