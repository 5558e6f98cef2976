-- What is offered to a customer for a deal. Its number is given when it is sent for the first time, and is its own for good.
CREATE TABLE IF NOT EXISTS quote (
  id BINARY(16) PRIMARY KEY,
  deal_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  number INT NULL,
  -- How often it was sent in another form.
  n INT NOT NULL DEFAULT 0,
  state ENUM('draft', 'sent', 'accepted', 'declined', 'withdrawn') NOT NULL,
  currency CHAR(3) NOT NULL,
  name VARCHAR(120) NOT NULL,
  intro TEXT NOT NULL,
  closing TEXT NOT NULL,
  valid_until DATE NOT NULL,
  -- The step that asks about it before it lapses.
  task_id BINARY(16) NULL,
  sent_at DATETIME(3) NULL,
  decided_at DATETIME(3) NULL,
  decided_name VARCHAR(160) NULL,
  decided_words VARCHAR(2000) NOT NULL DEFAULT '',
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY quote_number (number),
  KEY quote_deal (deal_id, created_at),
  KEY quote_user (user_id),
  KEY quote_task (task_id),
  CONSTRAINT quote_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id),
  CONSTRAINT quote_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT quote_task_known FOREIGN KEY (task_id) REFERENCES task (id),
  CONSTRAINT quote_number_range CHECK (number > 0)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS quote_line (
  id BINARY(16) PRIMARY KEY,
  quote_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  product_id BINARY(16) NULL,
  name VARCHAR(160) NOT NULL,
  quantity DECIMAL(12, 2) NOT NULL,
  price_minor BIGINT NOT NULL,
  discount_percent DECIMAL(5, 2) NOT NULL,
  tax_percent DECIMAL(5, 2) NOT NULL,
  billing ENUM('once', 'yearly') NOT NULL,
  is_optional TINYINT(1) NOT NULL,
  is_chosen TINYINT(1) NOT NULL DEFAULT 0,
  KEY quote_line_quote (quote_id, position),
  KEY quote_line_product (product_id),
  CONSTRAINT quote_line_quote_known FOREIGN KEY (quote_id) REFERENCES quote (id),
  CONSTRAINT quote_line_product_known FOREIGN KEY (product_id) REFERENCES product (id),
  CONSTRAINT quote_line_amounts CHECK (quantity > 0 AND price_minor >= 0 AND tax_percent >= 0)
) ENGINE = InnoDB;

-- What went out, word for word: whatever is changed later, this was offered.
CREATE TABLE IF NOT EXISTS quote_version (
  quote_id BINARY(16) NOT NULL,
  n INT NOT NULL,
  content JSON NOT NULL,
  total_minor BIGINT NOT NULL,
  sent_at DATETIME(3) NOT NULL,
  user_id BINARY(16) NOT NULL,
  PRIMARY KEY (quote_id, n),
  KEY quote_version_user (user_id),
  CONSTRAINT quote_version_quote_known FOREIGN KEY (quote_id) REFERENCES quote (id),
  CONSTRAINT quote_version_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS quote_question (
  id BINARY(16) PRIMARY KEY,
  quote_id BINARY(16) NOT NULL,
  name VARCHAR(160) NOT NULL,
  words VARCHAR(2000) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY quote_question_quote (quote_id, at),
  CONSTRAINT quote_question_quote_known FOREIGN KEY (quote_id) REFERENCES quote (id)
) ENGINE = InnoDB;

-- The last number given of each series; given in the transaction that uses it, so that none is left out.
CREATE TABLE IF NOT EXISTS number_series (
  name VARCHAR(20) PRIMARY KEY,
  last_number INT NOT NULL
) ENGINE = InnoDB;
