-- Where compensating light, which was switched off for a point, would have helped: core/motion/points/point-look.ts.
ALTER TABLE point_frames ADD COLUMN light_wanted BOOLEAN NOT NULL DEFAULT FALSE AFTER light;
