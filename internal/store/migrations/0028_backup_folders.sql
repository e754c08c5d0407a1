-- Where backups were written, by the machine's name, and of how many who were
-- forgotten the list that lies beside them tells.
CREATE TABLE IF NOT EXISTS backup_folders (
  host VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  folder VARCHAR(500) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  told BIGINT UNSIGNED NOT NULL DEFAULT 0,
  PRIMARY KEY (host, folder)
);
