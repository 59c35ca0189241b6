-- Looking at a surface's borders on all frames: core/surface/seat.
ALTER TABLE jobs MODIFY kind ENUM('bring-in', 'check', 'follow', 'seat', 'render') NOT NULL;

-- What the last look found of the whole shot.
CREATE TABLE seat_measures (
  shot_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  reference_frame INT UNSIGNED NOT NULL,
  corners JSON NOT NULL,
  -- How many borders were found along each side.
  borders JSON NOT NULL,
  worth BOOLEAN NOT NULL,
  changed BIGINT UNSIGNED NOT NULL,
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

-- And of each frame. It holds for the map whose key it has, and is out of date beside another one.
CREATE TABLE seat_frames (
  shot_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  map_key CHAR(32) NOT NULL,
  -- x and y of the four corners, px of the reference frame; 95 % bounds, px of the frame. Null where no border was found.
  moves JSON NULL,
  bounds JSON NULL,
  support FLOAT NOT NULL,
  drift FLOAT NOT NULL,
  -- Columns of the edge slices: core/surface/seat/edge-slices.ts.
  strips BLOB NOT NULL,
  PRIMARY KEY (shot_id, frame),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);
