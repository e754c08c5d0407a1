-- Days on which no class of a school has a lesson, as JSON.
ALTER TABLE schools ADD COLUMN IF NOT EXISTS holidays TEXT NULL;
