-- What kind of thing somebody did: asked for by itself, not by the words it was told in.
ALTER TABLE deeds
  ADD COLUMN IF NOT EXISTS kind VARCHAR(10) NOT NULL DEFAULT 'change';
UPDATE deeds SET kind = CASE
  WHEN deed = 'signed in' THEN 'sign-in'
  WHEN deed LIKE 'saw %' OR deed LIKE 'got %' THEN 'look'
  WHEN deed LIKE 'exported %' OR deed LIKE 'downloaded %' OR deed LIKE 'showed %' THEN 'give'
  ELSE kind END
WHERE kind = 'change';
