-- Students mark where lines cross a box's sides before they are shown, unless their teacher wishes it otherwise.
ALTER TABLE projects ADD COLUMN IF NOT EXISTS guess_off TINYINT NOT NULL DEFAULT 0;
