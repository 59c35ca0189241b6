-- What a person says where a file is wrong, where its decoded frames lie, and what the check found.
ALTER TABLE media
  MODIFY state ENUM('waiting', 'ready', 'cleared', 'failed') NOT NULL DEFAULT 'waiting',
  ADD COLUMN corrections JSON NULL,
  ADD COLUMN lut_name VARCHAR(255) NULL,
  ADD COLUMN lut_hash CHAR(64) NULL,
  -- Folder of the frame store; media of the same bytes read in the same way share one.
  ADD COLUMN store VARCHAR(80) NULL,
  ADD COLUMN frame_bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN problem_code VARCHAR(40) NULL,
  ADD COLUMN checked BOOLEAN NOT NULL DEFAULT FALSE,
  ADD KEY by_hash (hash),
  ADD KEY by_size (bytes);

ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'render') NOT NULL;

ALTER TABLE projects ADD COLUMN archived_at TIMESTAMP(3) NULL;
ALTER TABLE shots ADD COLUMN archived_at TIMESTAMP(3) NULL;

-- One row a frame of the plate check.
CREATE TABLE check_frames (
  media_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  sharpness DOUBLE NOT NULL,
  exposure DOUBLE NOT NULL,
  noise DOUBLE NOT NULL,
  blur DOUBLE NOT NULL,
  blur_angle DOUBLE NULL,
  repeats INT UNSIGNED NULL,
  cut BOOLEAN NOT NULL,
  flash BOOLEAN NOT NULL,
  difference DOUBLE NOT NULL,
  PRIMARY KEY (media_id, frame),
  FOREIGN KEY (media_id) REFERENCES media (id)
);

-- What the check found in words, and the reference frame that it proposes.
CREATE TABLE check_results (
  media_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  findings JSON NOT NULL,
  reference JSON NULL,
  FOREIGN KEY (media_id) REFERENCES media (id)
);

-- Facts of before know less: media are read again; frames are made anew under their new names.
UPDATE media SET facts = NULL, state = 'waiting' WHERE state = 'ready';
INSERT INTO jobs (kind, project_id, media_id, params, changed)
  SELECT 'bring-in', project_id, id, '{}', NEXT VALUE FOR change_number FROM media WHERE state = 'waiting';

-- Which medium an upload that came in whole has become: asking again gives the same answer.
CREATE TABLE uploads (
  upload_id CHAR(32) NOT NULL PRIMARY KEY,
  media_id BIGINT UNSIGNED NOT NULL,
  job_id BIGINT UNSIGNED NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (media_id) REFERENCES media (id),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);

-- Deleted media stay, hidden, until a sweep.
ALTER TABLE media ADD COLUMN deleted_at TIMESTAMP(3) NULL;
