-- What was seen on a followed frame that a person should know.
ALTER TABLE track_frames ADD COLUMN note VARCHAR(255) NULL AFTER lost;
