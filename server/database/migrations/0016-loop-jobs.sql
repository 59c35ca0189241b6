-- A job that lets the end of a shot go over into its beginning, or divides it with another take.
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'points', 'pull', 'seat', 'scene', 'steady', 'board', 'loop', 'render') NOT NULL;
