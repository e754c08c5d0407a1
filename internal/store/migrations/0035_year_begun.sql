-- What a teacher's last new school year changed, as JSON, so that it can be taken back for a week.
ALTER TABLE teachers ADD COLUMN IF NOT EXISTS year_begun TEXT NULL;
