-- Looks that are kept under a name, for all shots of a project: core/picture/look/blend-part.ts.
CREATE TABLE looks (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  look JSON NOT NULL,
  created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY by_name (project_id, name),
  FOREIGN KEY (project_id) REFERENCES projects (id)
);
