-- Every change of a job or a track row takes the next number, so that readers can ask for what is new.
-- Numbers every change. Statements ask for the next one themselves: as a column's DEFAULT it ends MariaDB 10.11.19
-- (signal 11 in Item_func_nextval) when a prepared INSERT is run again after its tables were closed.
CREATE SEQUENCE change_number START WITH 1 INCREMENT BY 1;

CREATE TABLE projects (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at TIMESTAMP(3) NULL
);

-- A clip, a still or a sequence: plates and content alike.
CREATE TABLE media (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(255) NOT NULL,
  hash CHAR(64) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  state ENUM('waiting', 'ready', 'failed') NOT NULL DEFAULT 'waiting',
  kind ENUM('clip', 'still', 'sequence') NULL,
  facts JSON NULL,
  frames INT UNSIGNED NULL,
  problem TEXT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (project_id) REFERENCES projects (id)
);

CREATE TABLE shots (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  plate_id BIGINT UNSIGNED NULL,
  revision INT UNSIGNED NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at TIMESTAMP(3) NULL,
  FOREIGN KEY (project_id) REFERENCES projects (id),
  FOREIGN KEY (plate_id) REFERENCES media (id)
);

-- Every saved state of a shot's document; the newest is the one whose number the shot holds.
CREATE TABLE shot_revisions (
  shot_id BIGINT UNSIGNED NOT NULL,
  revision INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (shot_id, revision),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

CREATE TABLE jobs (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind ENUM('bring-in', 'follow', 'render') NOT NULL,
  project_id BIGINT UNSIGNED NOT NULL,
  shot_id BIGINT UNSIGNED NULL,
  media_id BIGINT UNSIGNED NULL,
  params JSON NOT NULL,
  state ENUM('queued', 'running', 'done', 'failed', 'stopped') NOT NULL DEFAULT 'queued',
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  problem TEXT NULL,
  result VARCHAR(255) NULL,
  worker VARCHAR(200) NULL,
  heartbeat_at TIMESTAMP(3) NULL,
  stop_requested BOOLEAN NOT NULL DEFAULT FALSE,
  attempts INT UNSIGNED NOT NULL DEFAULT 0,
  changed BIGINT UNSIGNED NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended_at TIMESTAMP(3) NULL,
  KEY by_state (state, id),
  KEY by_change (changed),
  KEY by_shot (shot_id, kind, id),
  FOREIGN KEY (project_id) REFERENCES projects (id),
  FOREIGN KEY (shot_id) REFERENCES shots (id),
  FOREIGN KEY (media_id) REFERENCES media (id)
);

-- One row a followed frame. `run_key` tells from which regions, reference and motion it was made.
CREATE TABLE track_frames (
  shot_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  run_key CHAR(64) NOT NULL,
  homography JSON NULL,
  error DOUBLE NULL,
  confidence DOUBLE NOT NULL,
  blur DOUBLE NOT NULL DEFAULT 0,
  lost VARCHAR(255) NULL,
  job_id BIGINT UNSIGNED NOT NULL,
  changed BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (shot_id, frame),
  KEY by_change (shot_id, changed),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

-- Frames that a render has finished; the picture lies in the job's folder.
CREATE TABLE rendered_frames (
  job_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  PRIMARY KEY (job_id, frame),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);
