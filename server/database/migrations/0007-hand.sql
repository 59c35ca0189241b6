-- Corner points, and frames between hand keys that were pulled onto the picture: core/motion/points, core/motion/keys.
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'points', 'pull', 'seat', 'render') NOT NULL;

-- Where a point was found on a frame, or why not. `run_key` tells from which plate and reference frame it leads.
CREATE TABLE point_frames (
  shot_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  frame INT UNSIGNED NOT NULL,
  run_key CHAR(64) NOT NULL,
  x DOUBLE NULL,
  y DOUBLE NULL,
  how ENUM('reference', 'matched', 'hand', 'reckoned', 'lost') NOT NULL,
  score DOUBLE NOT NULL,
  bound DOUBLE NOT NULL,
  light BOOLEAN NOT NULL,
  note VARCHAR(255) NULL,
  changed BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (shot_id, name, frame),
  KEY by_change (shot_id, changed),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

-- Corners of a frame as the picture shows it, where its keys had led there.
CREATE TABLE pulled_frames (
  shot_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  run_key CHAR(64) NOT NULL,
  corners JSON NOT NULL,
  confidence DOUBLE NOT NULL,
  bounds JSON NOT NULL,
  moved DOUBLE NOT NULL,
  changed BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (shot_id, frame),
  KEY by_change (shot_id, changed),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);
