-- Boxes that everyone draws as they like: checks say nothing of them.
ALTER TABLE projects
  ADD COLUMN IF NOT EXISTS free_boxes TEXT NOT NULL DEFAULT '';
