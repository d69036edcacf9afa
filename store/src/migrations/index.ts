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
  {
    name: '036-changes-of-reports',
    sql: `ALTER TABLE reports
      ADD COLUMN changed_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6) ON UPDATE CURRENT_TIMESTAMP(6),
      ADD INDEX by_change (app_id, changed_at)`,
  },
  {
    name: '037-report-removals',
    sql: `CREATE TABLE report_removals (
      report_row BIGINT UNSIGNED PRIMARY KEY,
      app_id INT UNSIGNED NOT NULL,
      removed_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
      INDEX by_time (app_id, removed_at)
    )`,
  },
  {
    name: '038-terms',
    sql: `CREATE TABLE terms (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      hash BINARY(16) NOT NULL COMMENT 'of field, key and value',
      field VARCHAR(30) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      term_key VARCHAR(200) COLLATE utf8mb4_bin NOT NULL COMMENT 'name of the flag or attribute, else empty',
      value TEXT COLLATE utf8mb4_bin NOT NULL,
      UNIQUE (app_id, hash),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '039-report-terms',
    sql: `CREATE TABLE report_terms (
      report_row BIGINT UNSIGNED PRIMARY KEY,
      terms BLOB NOT NULL COMMENT 'ids of terms, ascending, distances in LEB128',
      FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '040-filterable-attributes',
    sql: `CREATE TABLE filterable_attributes (
      app_id INT UNSIGNED NOT NULL,
      name VARCHAR(200) COLLATE utf8mb4_bin NOT NULL,
      asked_by VARCHAR(254) NOT NULL,
      asked_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      PRIMARY KEY (app_id, name),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '041-terms-of-attributes',
    sql: `ALTER TABLE jobs MODIFY kind ENUM('process-report', 'index-symbol-file', 'index-terms') NOT NULL`,
  },
  {
    name: '042-terms-of-old-reports',
    sql: `INSERT INTO jobs (kind, app_id, subject_id, priority) SELECT 'process-report', app_id, id, 9 FROM reports WHERE state = 'processed'`,
  },
  {
    name: '043-keys-of-cases',
    sql: `CREATE TABLE case_keys (
      app_id INT UNSIGNED NOT NULL,
      key_hash BINARY(32) NOT NULL COMMENT 'of a grouping key, or of a variant that was taken out of its case',
      case_id BIGINT UNSIGNED NOT NULL,
      PRIMARY KEY (app_id, key_hash),
      INDEX by_case (case_id),
      FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
    )`,
  },
  { name: '044-first-keys-of-cases', sql: 'INSERT INTO case_keys (app_id, key_hash, case_id) SELECT app_id, grouping_key, id FROM cases' },
  {
    name: '045-merged-cases',
    sql: `ALTER TABLE cases
      DROP INDEX app_id_2,
      DROP COLUMN grouping_key,
      ADD COLUMN merged_into BIGINT UNSIGNED NULL COMMENT 'where its reports went; it comes back with a report of its own',
      ADD INDEX by_merge (merged_into)`,
  },
  {
    name: '046-keys-of-reports',
    sql: `ALTER TABLE reports
      ADD COLUMN grouping_key BINARY(32) NULL,
      ADD COLUMN variant_key BINARY(32) NULL,
      ADD INDEX by_variant (case_id, variant_key)`,
  },
  {
    name: '047-grouping-changes',
    sql: `CREATE TABLE grouping_changes (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      rules TEXT NOT NULL,
      state ENUM('previewing', 'previewed', 'applying', 'applied', 'dropped') NOT NULL,
      asked_by VARCHAR(254) NOT NULL,
      asked_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      next_row BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'reports from here down are still to be looked at; 0: none was',
      looked INT UNSIGNED NOT NULL DEFAULT 0,
      total INT UNSIGNED NOT NULL DEFAULT 0,
      moved INT UNSIGNED NOT NULL DEFAULT 0,
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '048-previewed-groups',
    sql: `CREATE TABLE previewed_groups (
      change_id INT UNSIGNED NOT NULL,
      case_id BIGINT UNSIGNED NOT NULL,
      key_hash BINARY(32) NOT NULL,
      title VARCHAR(600) NOT NULL,
      reports INT UNSIGNED NOT NULL,
      PRIMARY KEY (change_id, case_id, key_hash),
      FOREIGN KEY (change_id) REFERENCES grouping_changes (id) ON DELETE CASCADE
    )`,
  },
  { name: '049-rules-in-force', sql: 'ALTER TABLE apps ADD COLUMN grouping_change_id INT UNSIGNED NULL' },
  {
    name: '050-jobs-of-grouping-changes',
    sql: `ALTER TABLE jobs MODIFY kind ENUM('process-report', 'index-symbol-file', 'index-terms', 'change-grouping') NOT NULL`,
  },
  {
    name: '051-views',
    sql: `CREATE TABLE views (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      name VARCHAR(100) NOT NULL,
      address VARCHAR(6000) NOT NULL COMMENT 'the scope as address parameters',
      made_by VARCHAR(254) NOT NULL,
      for_team BOOLEAN NOT NULL,
      made_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
      INDEX by_app (app_id, name),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  { name: '052-desk-settings', sql: 'ALTER TABLE apps ADD COLUMN desk_settings JSON NULL' },
  ...['reports', 'sessions'].map((table, index) => ({
    name: `${String(53 + index).padStart(3, '0')}-people-of-${table}`,
    sql: `ALTER TABLE ${table} ADD INDEX by_person (app_id, person_key), ADD INDEX by_installation (app_id, installation_id)`,
  })),
  ...['reports', 'sessions'].map((table, index) => ({
    name: `${String(55 + index).padStart(3, '0')}-contacts-of-${table}`,
    sql: `ALTER TABLE ${table}
      ADD COLUMN contact_key BINARY(16) NULL COMMENT 'hash of how the person can be reached' AFTER person_key,
      ADD INDEX by_contact (app_id, contact_key)`,
  })),
  { name: '057-columns-of-people', sql: 'ALTER TABLE accounts ADD COLUMN desk_columns JSON NULL' },
  {
    name: '058-what-sessions-are-counted-by',
    sql: `ALTER TABLE sessions
      ADD COLUMN memory_class VARCHAR(50) NULL AFTER contact_key,
      ADD COLUMN carrier VARCHAR(100) NULL AFTER memory_class,
      ADD COLUMN crashed_at DATETIME(3) NULL COMMENT 'the earliest that was told' AFTER errors,
      ADD COLUMN changed_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6) ON UPDATE CURRENT_TIMESTAMP(6),
      ADD COLUMN day DATE AS (CAST(IF(started_at > received_at OR started_at < received_at - INTERVAL 180 DAY, received_at, started_at) AS DATE)) STORED
        COMMENT 'the day it counts for; a clock that cannot be right gives way to the arrival',
      DROP INDEX by_start,
      ADD INDEX by_day (app_id, day),
      ADD INDEX by_change (app_id, changed_at)`,
  },
  {
    name: '059-moved-sessions',
    sql: `CREATE TABLE session_moves (
      id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      counted_key BINARY(16) NOT NULL COMMENT 'the person, or the session where nobody is known',
      day DATE NOT NULL,
      moved_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
      INDEX by_time (app_id, moved_at)
    )`,
  },
  {
    name: '060-sessions-that-count-elsewhere',
    sql: `CREATE TRIGGER session_counts_elsewhere AFTER UPDATE ON sessions FOR EACH ROW
      IF OLD.begun AND (OLD.day <> NEW.day OR NOT (OLD.person_key <=> NEW.person_key)) THEN
        INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
      END IF`,
  },
  {
    name: '061-sessions-that-are-gone',
    sql: `CREATE TRIGGER session_gone AFTER DELETE ON sessions FOR EACH ROW
      IF OLD.begun AND @ember_keeps_sums IS NULL THEN
        INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
      END IF`,
  },
  {
    name: '062-days-of-sessions',
    sql: `CREATE TABLE session_days (
      app_id INT UNSIGNED NOT NULL,
      day DATE NOT NULL,
      row_count INT UNSIGNED NOT NULL,
      content LONGBLOB NOT NULL COMMENT 'docs/session-days.md, deflated',
      PRIMARY KEY (app_id, day),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '063-how-far-sessions-are-summed',
    sql: `CREATE TABLE session_sums (
      app_id INT UNSIGNED PRIMARY KEY,
      mark DECIMAL(20, 6) NOT NULL COMMENT 'what changed before is in the days, in seconds since 1970',
      attributes JSON NOT NULL COMMENT 'those that the days are told apart by',
      generation INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often everything was to be summed anew',
      raw_from DATE NULL COMMENT 'sessions of earlier days are gone, their sums stay',
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '064-rollouts',
    sql: `CREATE TABLE rollouts (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      version VARCHAR(100) NOT NULL,
      version_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
      action ENUM('step', 'halt', 'resume') NOT NULL,
      percent DECIMAL(7, 4) NULL COMMENT 'of people, from then on',
      at DATETIME(3) NOT NULL,
      by_whom VARCHAR(254) NOT NULL,
      commit_id VARCHAR(200) NOT NULL,
      note TEXT NOT NULL,
      INDEX by_time (app_id, at),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '065-flag-changes',
    sql: `CREATE TABLE flag_changes (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      app_id INT UNSIGNED NOT NULL,
      flag VARCHAR(200) COLLATE utf8mb4_bin NOT NULL,
      variant VARCHAR(200) COLLATE utf8mb4_bin NOT NULL,
      percent DECIMAL(7, 4) NULL,
      at DATETIME(3) NOT NULL,
      by_whom VARCHAR(254) NOT NULL,
      note TEXT NOT NULL,
      INDEX by_time (app_id, at),
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  { name: '066-stability-settings', sql: 'ALTER TABLE apps ADD COLUMN stability_settings JSON NULL' },
  {
    name: '067-looks',
    sql: `CREATE TABLE looks (
      account_id INT UNSIGNED NOT NULL,
      app_id INT UNSIGNED NOT NULL,
      looked_at DATETIME(3) NOT NULL,
      looked_before DATETIME(3) NULL COMMENT 'the time before, which news are told since',
      PRIMARY KEY (account_id, app_id),
      FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
      FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
    )`,
  },
  {
    name: '068-wall-links',
    sql: `CREATE TABLE wall_links (
      id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
      name VARCHAR(100) NOT NULL,
      secret_hash BINARY(32) NOT NULL UNIQUE,
      app_ids JSON NULL COMMENT 'the apps that take turns; null for all there are',
      made_by VARCHAR(254) NOT NULL,
      created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
      revoked_at DATETIME(3) NULL,
      last_used_at DATETIME(3) NULL
    )`,
  },
  { name: '069-first-look', sql: 'ALTER TABLE apps ADD COLUMN first_look JSON NULL' },
  {
    // Reports of before are found by the screen they came from, too; a job looks at 500 of them again.
    name: '070-terms-with-screens',
    sql: `INSERT INTO jobs (kind, app_id, subject_id, priority)
      SELECT 'index-terms', app_id, id, 9
      FROM (SELECT app_id, id, ROW_NUMBER() OVER (PARTITION BY app_id ORDER BY id) AS place FROM reports) AS numbered
      WHERE place % 500 = 1`,
  },
  {
    name: '071-room-for-activities',
    sql: "ALTER TABLE sessions MODIFY body MEDIUMTEXT COMPRESSED NULL COMMENT 'flags, attributes, screens and requests, JSON'",
  },
  // Sessions that only reports tell of are counted, too: beside the others.
  {
    name: '072-untold-sessions-that-count-elsewhere',
    sql: `CREATE OR REPLACE TRIGGER session_counts_elsewhere AFTER UPDATE ON sessions FOR EACH ROW
      IF OLD.day <> NEW.day OR NOT (OLD.person_key <=> NEW.person_key) THEN
        INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
      END IF`,
  },
  {
    name: '073-untold-sessions-that-are-gone',
    sql: `CREATE OR REPLACE TRIGGER session_gone AFTER DELETE ON sessions FOR EACH ROW
      IF @ember_keeps_sums IS NULL THEN
        INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
      END IF`,
  },
  {
    // Sums of before have no sessions that only reports tell of; they are made anew as far as raw sessions are there.
    name: '074-sums-with-untold-sessions',
    sql: 'UPDATE session_sums SET mark = 0, generation = generation + 1',
  },
];
