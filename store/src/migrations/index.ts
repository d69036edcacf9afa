/** Every change of the schema in order; forward only, one change each. A released migration is never edited. */
export const migrations: readonly { readonly name: string; readonly sql: string }[] = [
  {
    name: '001-accounts',
    sql: `CREATE TABLE accounts (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      email VARCHAR(254) NOT NULL UNIQUE,
      name VARCHAR(100) NOT NULL,
      role ENUM('owner', 'developer', 'viewer') NOT NULL,
      password_hash VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3)
    )`,
  },
  {
    name: '002-sign-ins',
    sql: `CREATE TABLE sign_ins (
      token_hash BINARY(32) PRIMARY KEY,
      account_id INT UNSIGNED NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      expires_at DATETIME(3) NOT NULL,
      INDEX (expires_at),
      FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '003-apps',
    sql: `CREATE TABLE apps (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      slug VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
      name VARCHAR(100) NOT NULL,
      prefix VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
      platforms JSON NOT NULL,
      our_packages JSON NOT NULL COMMENT 'packages whose frames are ours; empty: all that are not known to be outside',
      last_case_number INT UNSIGNED NOT NULL DEFAULT 0,
      revision BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'raised by whatever changes what screens show',
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3)
    )`,
  },
  {
    name: '004-intake-keys',
    sql: `CREATE TABLE intake_keys (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      name VARCHAR(100) NOT NULL,
      key_text VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE COMMENT 'ships inside apps, so no secret',
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      revoked_at DATETIME(3) NULL,
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '005-tokens',
    sql: `CREATE TABLE tokens (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      name VARCHAR(100) NOT NULL,
      scope ENUM('upload') NOT NULL,
      token_hash BINARY(32) NOT NULL UNIQUE,
      shown_prefix VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      revoked_at DATETIME(3) NULL,
      last_used_at DATETIME(3) NULL,
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '006-symbol-files',
    sql: `CREATE TABLE symbol_files (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      kind ENUM('mapping') NOT NULL,
      version VARCHAR(100) NOT NULL,
      version_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
      build VARCHAR(100) NOT NULL,
      map_id VARCHAR(200) COLLATE utf8mb4_bin NULL,
      sha256 BINARY(32) NOT NULL,
      size_bytes BIGINT UNSIGNED NOT NULL,
      file_name VARCHAR(255) NOT NULL,
      state ENUM('indexing', 'ready', 'refused') NOT NULL,
      problem VARCHAR(1000) NULL,
      summary JSON NULL,
      uploaded_by VARCHAR(254) NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      INDEX by_build (app_id, version, build, state),
      INDEX by_map_id (app_id, map_id, state),
      INDEX by_content (sha256),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '007-cases',
    sql: `CREATE TABLE cases (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      number INT UNSIGNED NOT NULL,
      grouping_key BINARY(32) NOT NULL,
      kind ENUM('crash', 'hang', 'kill', 'error') NOT NULL,
      state ENUM('open', 'closed', 'muted', 'reopened') NOT NULL DEFAULT 'open',
      what VARCHAR(500) NOT NULL,
      where_text VARCHAR(1200) NOT NULL,
      message VARCHAR(2000) NULL,
      culprit JSON NULL,
      provisional BOOLEAN NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      UNIQUE (app_id, number),
      UNIQUE (app_id, grouping_key),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '008-case-redirects',
    sql: `CREATE TABLE case_redirects (
      app_id INT UNSIGNED NOT NULL,
      number INT UNSIGNED NOT NULL,
      case_id BIGINT UNSIGNED NOT NULL COMMENT 'where the reports of that number went',
      PRIMARY KEY (app_id, number),
      FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '009-reports',
    sql: `CREATE TABLE reports (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      report_id BINARY(16) NOT NULL COMMENT 'made on the device',
      kind ENUM('crash', 'hang', 'kill', 'error') NOT NULL,
      occurred_at DATETIME(3) NOT NULL,
      received_at DATETIME(3) NOT NULL,
      processed_at DATETIME(3) NULL,
      version VARCHAR(100) NOT NULL,
      version_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
      build VARCHAR(100) NOT NULL,
      os_name VARCHAR(50) NULL,
      os_version VARCHAR(50) NULL,
      device_model VARCHAR(201) NULL,
      installation_id BINARY(16) NULL,
      person_key BINARY(16) NULL COMMENT 'the user id hashed, else the installation id',
      state ENUM('waiting', 'processed', 'failed') NOT NULL DEFAULT 'waiting',
      problem VARCHAR(1000) NULL,
      case_id BIGINT UNSIGNED NULL,
      UNIQUE (app_id, report_id),
      INDEX by_case (case_id, occurred_at),
      INDEX by_time (app_id, occurred_at, kind, case_id, person_key),
      INDEX by_build (app_id, version, build),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE,
      FOREIGN KEY (case_id) REFERENCES cases (id)
    )`,
  },
  {
    name: '010-report-bodies',
    sql: `CREATE TABLE report_bodies (
      report_row BIGINT UNSIGNED PRIMARY KEY,
      body MEDIUMTEXT COMPRESSED NOT NULL COMMENT 'the canonical report as it was accepted, JSON',
      readable MEDIUMTEXT COMPRESSED NULL COMMENT 'the symbolicated stacks, JSON',
      explanation TEXT COMPRESSED NULL COMMENT 'why the report is in its case, JSON',
      FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '011-report-needs',
    sql: `CREATE TABLE report_needs (
      report_row BIGINT UNSIGNED NOT NULL,
      app_id INT UNSIGNED NOT NULL,
      kind ENUM('mapping') NOT NULL,
      version VARCHAR(100) NOT NULL,
      build VARCHAR(100) NOT NULL,
      map_id VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'empty: version and build tie the file',
      found BOOLEAN NOT NULL,
      PRIMARY KEY (report_row, kind, map_id),
      INDEX by_build (app_id, found, version, build, map_id),
      FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '012-jobs',
    sql: `CREATE TABLE jobs (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      kind ENUM('process-report', 'index-symbol-file') NOT NULL,
      app_id INT UNSIGNED NOT NULL,
      subject_id BIGINT UNSIGNED NOT NULL COMMENT 'row of the report or symbol file',
      priority TINYINT UNSIGNED NOT NULL COMMENT 'lower goes first',
      attempts TINYINT UNSIGNED NOT NULL DEFAULT 0,
      run_after DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3) COMMENT 'also the end of the lease of whoever took it',
      INDEX next_first (priority, id),
      INDEX by_subject (kind, subject_id),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '013-intake-log',
    sql: `CREATE TABLE intake_log (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      app_id INT UNSIGNED NULL,
      key_name VARCHAR(100) NULL,
      client VARCHAR(200) NULL,
      what VARCHAR(300) NOT NULL,
      status SMALLINT UNSIGNED NOT NULL,
      accepted INT UNSIGNED NOT NULL DEFAULT 0,
      duplicates INT UNSIGNED NOT NULL DEFAULT 0,
      refused INT UNSIGNED NOT NULL DEFAULT 0,
      reason VARCHAR(1000) NULL,
      INDEX by_app (app_id, id),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '014-intake-key-rules',
    sql: `ALTER TABLE intake_keys
      ADD rules JSON NOT NULL DEFAULT '{}' COMMENT 'what the key accepts, keeps apart, samples and how fast',
      ADD last_used_at DATETIME(3) NULL`,
  },
  {
    name: '015-scrub-rules',
    sql: `ALTER TABLE apps ADD scrub_rules JSON NOT NULL DEFAULT '{}' COMMENT 'what is taken out of texts before they are stored'`,
  },
  {
    name: '016-report-circumstances',
    sql: `ALTER TABLE reports
      ADD build_type VARCHAR(50) NOT NULL DEFAULT 'release' AFTER build,
      ADD apart BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'kept apart from what people see by default, such as debug builds',
      ADD session_id BINARY(16) NULL,
      ADD country CHAR(2) CHARACTER SET ascii NULL,
      ADD INDEX by_session (app_id, session_id)`,
  },
  {
    name: '017-cases-kept-apart',
    sql: 'ALTER TABLE cases ADD apart BOOLEAN NOT NULL DEFAULT FALSE',
  },
  {
    name: '018-sessions',
    sql: `CREATE TABLE sessions (
      app_id INT UNSIGNED NOT NULL,
      session_id BINARY(16) NOT NULL COMMENT 'made on the device',
      begun BOOLEAN NOT NULL COMMENT 'an item of the session itself has come, not only a report that names it',
      apart BOOLEAN NOT NULL DEFAULT FALSE,
      state ENUM('open', 'ended', 'killed', 'hung', 'crashed') NOT NULL COMMENT 'the worst that was told, in this order',
      started_at DATETIME(3) NOT NULL,
      last_at DATETIME(3) NOT NULL,
      duration_ms INT UNSIGNED NOT NULL,
      errors INT UNSIGNED NOT NULL,
      first_sequence INT UNSIGNED NOT NULL COMMENT 'of the item that version, system and device are from',
      last_sequence INT UNSIGNED NOT NULL COMMENT 'of the item that the body is from',
      version VARCHAR(100) NOT NULL,
      version_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
      build VARCHAR(100) NOT NULL,
      build_type VARCHAR(50) NOT NULL,
      os_name VARCHAR(50) NULL,
      os_version VARCHAR(50) NULL,
      device_model VARCHAR(201) NULL,
      country CHAR(2) CHARACTER SET ascii NULL,
      installation_id BINARY(16) NULL,
      person_key BINARY(16) NULL,
      body TEXT COMPRESSED NULL COMMENT 'flags and attributes, JSON',
      received_at DATETIME(3) NOT NULL,
      PRIMARY KEY (app_id, session_id),
      INDEX by_start (app_id, started_at, version, state),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '019-attachments',
    sql: `CREATE TABLE attachments (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      attachment_id BINARY(16) NOT NULL,
      report_id BINARY(16) NOT NULL COMMENT 'of the device; the report may come later',
      kind ENUM('screenshot', 'view-hierarchy', 'log', 'original') NOT NULL,
      name VARCHAR(200) NOT NULL,
      media_type VARCHAR(100) CHARACTER SET ascii NOT NULL,
      size_bytes INT UNSIGNED NOT NULL,
      content MEDIUMBLOB NOT NULL,
      received_at DATETIME(3) NOT NULL,
      UNIQUE (app_id, attachment_id),
      INDEX by_report (app_id, report_id),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '020-intake-log-lines',
    sql: `ALTER TABLE intake_log
      ADD key_id INT UNSIGNED NULL AFTER key_name,
      ADD apart INT UNSIGNED NOT NULL DEFAULT 0 AFTER duplicates,
      ADD sampled_out INT UNSIGNED NOT NULL DEFAULT 0 AFTER apart,
      ADD remedy VARCHAR(500) NULL,
      ADD report_id BINARY(16) NULL COMMENT 'the first report of the request that was accepted',
      ADD details JSON NULL COMMENT 'the first lines that were not simply accepted',
      ADD INDEX by_time (app_id, at)`,
  },
  {
    name: '021-intake-rates',
    sql: `CREATE TABLE intake_rates (
      key_id INT UNSIGNED NOT NULL,
      minute INT UNSIGNED NOT NULL COMMENT 'since 1970',
      items INT UNSIGNED NOT NULL,
      PRIMARY KEY (key_id, minute),
      FOREIGN KEY (key_id) REFERENCES intake_keys (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '022-token-scopes',
    sql: `ALTER TABLE tokens MODIFY scope ENUM('upload', 'read', 'write') NOT NULL`,
  },
  {
    name: '023-invitations',
    sql: `CREATE TABLE invitations (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      email VARCHAR(254) NOT NULL,
      role ENUM('owner', 'developer', 'viewer') NOT NULL,
      token_hash BINARY(32) NOT NULL UNIQUE,
      invited_by VARCHAR(254) NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      expires_at DATETIME(3) NOT NULL
    )`,
  },
  {
    name: '024-sign-in-attempts',
    sql: `CREATE TABLE sign_in_attempts (
      subject BINARY(32) NOT NULL COMMENT 'hash of a mail address, or of the address a request came from',
      minute INT UNSIGNED NOT NULL COMMENT 'since 1970',
      failures INT UNSIGNED NOT NULL,
      PRIMARY KEY (subject, minute)
    )`,
  },
  {
    name: '025-symbol-file-kinds',
    sql: `ALTER TABLE symbol_files MODIFY kind ENUM('mapping', 'code', 'sourcemap') NOT NULL`,
  },
  {
    name: '026-symbol-parts',
    sql: `CREATE TABLE symbol_parts (
      file_id INT UNSIGNED NOT NULL,
      part SMALLINT UNSIGNED NOT NULL COMMENT 'of a universal binary one for each slice, else 0',
      app_id INT UNSIGNED NOT NULL,
      kind ENUM('mapping', 'code', 'sourcemap') NOT NULL,
      symbol_id VARCHAR(200) COLLATE utf8mb4_bin NULL,
      symbol_key VARCHAR(200) COLLATE utf8mb4_bin NULL COMMENT 'what all spellings of the id share',
      name VARCHAR(255) COLLATE utf8mb4_bin NULL COMMENT 'of the image or script',
      summary JSON NOT NULL,
      PRIMARY KEY (file_id, part),
      INDEX by_key (app_id, kind, symbol_key),
      FOREIGN KEY (file_id) REFERENCES symbol_files (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '027-parts-of-mappings',
    sql: `INSERT INTO symbol_parts (file_id, part, app_id, kind, symbol_id, symbol_key, name, summary)
      SELECT id, 0, app_id, kind, map_id, LEFT(LOWER(map_id), 32), NULL, summary FROM symbol_files WHERE state = 'ready' AND summary IS NOT NULL`,
  },
  {
    name: '028-symbol-files-without-parts',
    sql: 'ALTER TABLE symbol_files DROP INDEX by_map_id, DROP COLUMN map_id, DROP COLUMN summary',
  },
  {
    name: '029-needs-of-all-kinds',
    sql: `ALTER TABLE report_needs
      MODIFY kind ENUM('mapping', 'code', 'sourcemap') NOT NULL,
      CHANGE map_id symbol_id VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'empty: version and build tie the file',
      ADD COLUMN symbol_key VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' AFTER symbol_id,
      ADD COLUMN name VARCHAR(255) COLLATE utf8mb4_bin NOT NULL DEFAULT '' AFTER symbol_key,
      DROP PRIMARY KEY,
      ADD PRIMARY KEY (report_row, kind, symbol_id, name),
      ADD INDEX by_key (app_id, found, kind, symbol_key)`,
  },
  {
    name: '030-keys-of-needs',
    sql: `UPDATE report_needs SET symbol_key = LEFT(LOWER(symbol_id), 32) WHERE symbol_id <> ''`,
  },
  ...['symbol_files', 'symbol_parts', 'report_needs'].map((table, index) => ({
    name: `${String(31 + index).padStart(3, '0')}-kinds-of-${table.replaceAll('_', '-')}`,
    sql: `ALTER TABLE ${table} MODIFY kind ENUM('mapping', 'code', 'sourcemap', 'pdb', 'assembly', 'obfuscation-map', 'split') NOT NULL`,
  })),
  {
    name: '034-case-standing',
    sql: `ALTER TABLE cases
      ADD COLUMN closed_in VARCHAR(100) COLLATE utf8mb4_bin NULL,
      ADD COLUMN mute JSON NULL,
      ADD COLUMN assignee VARCHAR(254) NULL,
      ADD INDEX by_state (app_id, state)`,
  },
  {
    name: '035-case-events',
    sql: `CREATE TABLE case_events (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      case_id BIGINT UNSIGNED NOT NULL,
      at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      actor VARCHAR(254) NOT NULL COMMENT 'mail address, or token; empty for a report',
      kind VARCHAR(20) NOT NULL,
      detail JSON NOT NULL,
      before_standing JSON NULL COMMENT 'what undoing brings back; null for a note',
      undone BOOLEAN NOT NULL DEFAULT FALSE,
      INDEX by_case (case_id, id),
      FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
    )`,
  },
];
