-- When students may hand photos in by themselves, and that they see the boxes without words.
ALTER TABLE projects ADD COLUMN IF NOT EXISTS hand_in VARCHAR(12) NOT NULL DEFAULT '';
ALTER TABLE projects ADD COLUMN IF NOT EXISTS hand_in_bare BOOLEAN NOT NULL DEFAULT FALSE;
