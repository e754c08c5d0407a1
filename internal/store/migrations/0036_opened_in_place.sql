-- Why an administrator opened a colleague's class in their place.
ALTER TABLE shares ADD COLUMN IF NOT EXISTS reason VARCHAR(300) NOT NULL DEFAULT '';
