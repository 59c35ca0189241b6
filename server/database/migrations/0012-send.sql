-- Rendering frame by frame by any number of workers, frames found again by what they depend on, and what is made of them: server/send.
ALTER TABLE jobs
  MODIFY state ENUM('queued', 'running', 'done', 'failed', 'stopped', 'paused') NOT NULL DEFAULT 'queued',
  ADD COLUMN priority TINYINT NOT NULL DEFAULT 0,
  -- All frames of a render are there: what was asked for is made of them.
  ADD COLUMN packing BOOLEAN NOT NULL DEFAULT FALSE;

-- Everything that a render's frames depend on, as it was when it was asked for: core/base/schemas/send.schema.json.
CREATE TABLE render_plans (
  job_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  plan LONGTEXT NOT NULL,
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);

CREATE TABLE render_tasks (
  job_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  state ENUM('waiting', 'running', 'done', 'failed') NOT NULL DEFAULT 'waiting',
  worker VARCHAR(200) NULL,
  problem TEXT NULL,
  PRIMARY KEY (job_id, frame),
  KEY by_state (job_id, state, frame),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);

-- Threads that do jobs, on any machine, with their last sign of life.
CREATE TABLE workers (
  name VARCHAR(200) NOT NULL PRIMARY KEY,
  machine VARCHAR(120) NOT NULL,
  frames INT UNSIGNED NOT NULL DEFAULT 0,
  began_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
);

-- Frames that were made. The picture's file has the key's name; `parts` names the state of each thing that it depends on.
CREATE TABLE finished_frames (
  shot_id BIGINT UNSIGNED NOT NULL,
  layer VARCHAR(16) NOT NULL,
  frame INT UNSIGNED NOT NULL,
  frame_key CHAR(64) NOT NULL,
  parts JSON NOT NULL,
  made_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (shot_id, layer, frame, frame_key),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

-- Files that a render was asked for, in its own folder.
CREATE TABLE delivered_files (
  job_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(255) NOT NULL,
  layer VARCHAR(16) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (job_id, name),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);

-- Renders of before know neither plan nor tasks: those under way are to be asked for again.
UPDATE jobs SET state = 'stopped', ended_at = CURRENT_TIMESTAMP(3) WHERE kind = 'render' AND state IN ('queued', 'running');
UPDATE jobs SET params = JSON_SET(params, '$.output', IF(JSON_VALUE(params, '$.output') = 'mp4', 'h264', JSON_VALUE(params, '$.output')), '$.layers', JSON_ARRAY('full'), '$.version', 1, '$.settings', JSON_OBJECT())
  WHERE kind = 'render';
INSERT INTO delivered_files (job_id, name, layer, bytes) SELECT id, result, 'full', 0 FROM jobs WHERE kind = 'render' AND result IS NOT NULL;
DROP TABLE rendered_frames;
