-- How sure a followed frame's map is: numbers as core/motion/follow/certainty.ts packs them.
ALTER TABLE track_frames ADD COLUMN certainty JSON NULL;

-- Where a follow stands and what it has learnt, so that it goes on after a kill as if there had been none.
CREATE TABLE follow_states (
  job_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  state LONGTEXT NOT NULL,
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);
