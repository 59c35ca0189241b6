-- Boards are written as clips by jobs: server/jobs/board-job.ts.
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'points', 'pull', 'seat', 'steady', 'board', 'render') NOT NULL;
