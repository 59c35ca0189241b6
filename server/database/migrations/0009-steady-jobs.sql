-- Steadied clips are written by jobs: server/jobs/steady-job.ts.
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'points', 'pull', 'seat', 'steady', 'render') NOT NULL;
