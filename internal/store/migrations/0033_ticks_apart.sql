-- Ticks are a kind of their own: there are more of them than of all else that is done.
UPDATE deeds SET kind = 'tick' WHERE kind = 'change' AND deed LIKE 'ticked %';
