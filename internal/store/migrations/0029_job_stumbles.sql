-- How often a job's maker stumbled over it, and which worker has it: one that died with its
-- whole machine is not the job's fault.
ALTER TABLE jobs
  ADD COLUMN IF NOT EXISTS stumbles INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS holder VARCHAR(60) NOT NULL DEFAULT '';
