-- Which squares of the region did not go with a followed frame: core/motion/follow/disagreement.ts as JSON, deflated.
ALTER TABLE track_frames ADD COLUMN disagreement MEDIUMBLOB NULL AFTER note;
