-- Who may do what where the service is reached from elsewhere: server/access. Passwords and secrets are kept as hashes only.
CREATE TABLE accounts (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  role ENUM('owner', 'artist', 'reviewer') NOT NULL,
  -- scrypt: parameters, salt and hash.
  password VARCHAR(300) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY by_name (name)
);
CREATE TABLE access_sessions (
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  account_id BIGINT UNSIGNED NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  expires_at DATETIME(3) NOT NULL,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);
CREATE TABLE access_tokens (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(80) NOT NULL,
  scopes VARCHAR(80) NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  expires_at DATETIME(3) NULL,
  revoked_at DATETIME(3) NULL,
  used_at DATETIME(3) NULL,
  UNIQUE KEY by_hash (hash)
);

-- One track, many contents: server/variants. A slot is a variant that somebody else fills by a link.
CREATE TABLE slots (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id BIGINT UNSIGNED NOT NULL,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(80) NOT NULL,
  most_bytes BIGINT UNSIGNED NOT NULL,
  most_files INT UNSIGNED NOT NULL,
  most_renders INT UNSIGNED NOT NULL,
  files INT UNSIGNED NOT NULL DEFAULT 0,
  renders INT UNSIGNED NOT NULL DEFAULT 0,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  expires_at DATETIME(3) NOT NULL,
  revoked_at DATETIME(3) NULL,
  UNIQUE KEY by_hash (hash),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);
CREATE TABLE variants (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(80) NOT NULL,
  media_id BIGINT UNSIGNED NULL,
  -- core/base/schemas/variants.schema.json
  framing LONGTEXT NOT NULL,
  slot_id BIGINT UNSIGNED NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY by_shot (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shots (id),
  FOREIGN KEY (media_id) REFERENCES media (id),
  FOREIGN KEY (slot_id) REFERENCES slots (id)
);
-- 0: the shot's own content. What was made of a variant says nothing of the shot's own frames.
ALTER TABLE finished_frames ADD COLUMN variant_id BIGINT UNSIGNED NOT NULL DEFAULT 0 AFTER shot_id,
  DROP PRIMARY KEY, ADD PRIMARY KEY (shot_id, variant_id, layer, frame, frame_key);

-- Links by which somebody looks at versions of a shot, and what they noted: server/review.
CREATE TABLE reviews (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id BIGINT UNSIGNED NOT NULL,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(80) NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  expires_at DATETIME(3) NOT NULL,
  revoked_at DATETIME(3) NULL,
  UNIQUE KEY by_hash (hash),
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);
CREATE TABLE review_versions (
  review_id BIGINT UNSIGNED NOT NULL,
  job_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (review_id, job_id),
  FOREIGN KEY (review_id) REFERENCES reviews (id),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);
CREATE TABLE review_notes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id BIGINT UNSIGNED NOT NULL,
  review_id BIGINT UNSIGNED NULL,
  job_id BIGINT UNSIGNED NOT NULL,
  frame INT UNSIGNED NOT NULL,
  x DOUBLE NOT NULL,
  y DOUBLE NOT NULL,
  author VARCHAR(80) NOT NULL,
  words TEXT NOT NULL,
  settled BOOLEAN NOT NULL DEFAULT FALSE,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY by_shot (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shots (id),
  FOREIGN KEY (job_id) REFERENCES jobs (id)
);
CREATE TABLE note_answers (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  note_id BIGINT UNSIGNED NOT NULL,
  author VARCHAR(80) NOT NULL,
  words TEXT NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (note_id) REFERENCES review_notes (id)
);
