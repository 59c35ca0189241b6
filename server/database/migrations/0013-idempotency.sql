-- Requests that came with an Idempotency-Key, and what was answered: asked again, the same is answered and nothing done.
CREATE TABLE idempotency_keys (
  name VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  -- Method, address and body.
  request_hash CHAR(64) NOT NULL,
  status SMALLINT UNSIGNED NULL,
  reply LONGTEXT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY by_age (created_at)
);
