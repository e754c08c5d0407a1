-- Where schools have accounts of their teachers, and whose account is whose. A school
-- may have them sign in by these alone.
CREATE TABLE IF NOT EXISTS identity_providers (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  school_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(60) NOT NULL,
  issuer VARCHAR(300) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  client_id VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  secret VARCHAR(500) NOT NULL DEFAULT '',
  domains VARCHAR(1000) NOT NULL DEFAULT '',
  admin_claim VARCHAR(100) NOT NULL DEFAULT '',
  admin_value VARCHAR(200) NOT NULL DEFAULT '',
  CONSTRAINT fk_identity_providers_school FOREIGN KEY (school_id) REFERENCES schools (id) ON DELETE CASCADE
);
CREATE TABLE IF NOT EXISTS identities (
  provider_id BIGINT UNSIGNED NOT NULL,
  subject VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  teacher_id BIGINT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (provider_id, subject),
  CONSTRAINT fk_identities_provider FOREIGN KEY (provider_id) REFERENCES identity_providers (id) ON DELETE CASCADE,
  CONSTRAINT fk_identities_teacher FOREIGN KEY (teacher_id) REFERENCES teachers (id) ON DELETE CASCADE
);
ALTER TABLE schools ADD COLUMN IF NOT EXISTS accounts_only BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE sign_ins ADD COLUMN IF NOT EXISTS provider_id BIGINT UNSIGNED NULL;
