-- What was solved of a shot's surroundings: camera and still points, and the plane of its corners in them.
CREATE TABLE scenes (
  shot_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  plate_id BIGINT UNSIGNED NOT NULL,
  -- Names the settings that it was solved with.
  question CHAR(64) NOT NULL,
  scene LONGTEXT NOT NULL,
  plane TEXT NULL,
  changed BIGINT UNSIGNED NOT NULL,
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'points', 'pull', 'seat', 'scene', 'steady', 'board', 'render') NOT NULL;
