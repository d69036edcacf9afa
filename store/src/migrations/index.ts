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
];
