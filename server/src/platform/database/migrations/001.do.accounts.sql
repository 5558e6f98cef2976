CREATE TABLE app_user (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  email VARCHAR(254) NOT NULL,
  role ENUM('rep', 'manager', 'admin') NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  country CHAR(2) NOT NULL,
  hours JSON NOT NULL,
  monthly_quota_minor BIGINT NULL,
  demo_words VARCHAR(160) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY user_email (email)
) ENGINE = InnoDB;

-- Only the hash of a session's token is kept: who reads the database cannot sign in with it.
CREATE TABLE session (
  token_hash BINARY(32) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  KEY session_user (user_id),
  KEY session_expiry (expires_at),
  CONSTRAINT session_of_user FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- One row guards the making of the first admin: its key can be written once.
CREATE TABLE first_admin (
  only_one TINYINT PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  CONSTRAINT first_admin_is_one CHECK (only_one = 1)
) ENGINE = InnoDB;

-- Columns as the rate limiter package expects them.
CREATE TABLE rate_limit (
  `key` VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin PRIMARY KEY,
  points INT NOT NULL DEFAULT 0,
  expire BIGINT UNSIGNED NULL,
  KEY rate_limit_expiry (expire)
) ENGINE = InnoDB;

CREATE TABLE setting (
  name VARCHAR(60) PRIMARY KEY,
  value JSON NOT NULL,
  version INT NOT NULL DEFAULT 1
) ENGINE = InnoDB;
