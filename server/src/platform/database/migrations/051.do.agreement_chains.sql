-- An agreement is a chain of terms. Its own row says what holds today; `next_on` is the day on which that becomes another.
ALTER TABLE agreement
  ADD COLUMN IF NOT EXISTS state ENUM('ahead', 'running', 'over', 'ended') NOT NULL DEFAULT 'running' AFTER owner_id,
  ADD COLUMN IF NOT EXISTS decision ENUM('open', 'renewed', 'leaving') NOT NULL DEFAULT 'open' AFTER state,
  ADD COLUMN IF NOT EXISTS term_n INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS term_starts_on DATE NULL,
  ADD COLUMN IF NOT EXISTS yearly_minor BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS yearly_home_minor BIGINT NULL,
  ADD COLUMN IF NOT EXISTS uplift_kind ENUM('none', 'percent', 'amount') NOT NULL DEFAULT 'none',
  -- Hundredths of a percent, or minor units a term.
  ADD COLUMN IF NOT EXISTS uplift_by BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS leaves_on DATE NULL,
  ADD COLUMN IF NOT EXISTS notice_on DATE NULL,
  ADD COLUMN IF NOT EXISTS ended_by ENUM('customer', 'us') NULL,
  ADD COLUMN IF NOT EXISTS end_reason VARCHAR(300) NULL,
  ADD COLUMN IF NOT EXISTS end_words VARCHAR(2000) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS signer_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS check_in_months INT NULL,
  ADD COLUMN IF NOT EXISTS check_in_on DATE NULL,
  -- The last term whose lead day was acted on.
  ADD COLUMN IF NOT EXISTS led_n INT NOT NULL DEFAULT -1,
  ADD COLUMN IF NOT EXISTS next_on DATE NULL;

ALTER TABLE agreement
  ADD KEY IF NOT EXISTS agreement_next (next_on, id),
  ADD KEY IF NOT EXISTS agreement_lead (decision, lead_on, id),
  ADD KEY IF NOT EXISTS agreement_check_in (check_in_on, id),
  ADD KEY IF NOT EXISTS agreement_signer_known (signer_id),
  ADD CONSTRAINT agreement_signer_known FOREIGN KEY IF NOT EXISTS (signer_id) REFERENCES contact (id),
  ADD CONSTRAINT IF NOT EXISTS agreement_check_in_months_range CHECK (check_in_months BETWEEN 1 AND 24);

CREATE TABLE IF NOT EXISTS agreement_term (
  agreement_id BINARY(16) NOT NULL,
  n INT NOT NULL,
  starts_on DATE NOT NULL,
  -- First day after the term.
  ends_on DATE NOT NULL,
  -- None of a term that ends on a day agreed on.
  months INT NULL,
  value_minor BIGINT NOT NULL,
  yearly_minor BIGINT NOT NULL,
  how ENUM('first', 'rolled', 'renewed') NOT NULL,
  -- The deal it was won with.
  deal_id BINARY(16) NULL,
  -- The deal about what follows it.
  renewal_deal_id BINARY(16) NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (agreement_id, n),
  KEY agreement_term_deal (deal_id),
  KEY agreement_term_renewal (renewal_deal_id),
  CONSTRAINT agreement_term_of FOREIGN KEY (agreement_id) REFERENCES agreement (id),
  CONSTRAINT agreement_term_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id),
  CONSTRAINT agreement_term_renewal_known FOREIGN KEY (renewal_deal_id) REFERENCES deal (id),
  CONSTRAINT agreement_term_value_range CHECK (value_minor >= 0 AND yearly_minor >= 0),
  CONSTRAINT agreement_term_in_order CHECK (ends_on > starts_on)
) ENGINE = InnoDB;

-- More or less from a day within a term on.
CREATE TABLE IF NOT EXISTS agreement_change (
  id BINARY(16) PRIMARY KEY,
  agreement_id BINARY(16) NOT NULL,
  on_day DATE NOT NULL,
  value_minor BIGINT NOT NULL,
  words VARCHAR(2000) NOT NULL DEFAULT '',
  user_id BINARY(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY agreement_change_of (agreement_id, on_day),
  CONSTRAINT agreement_change_agreement_known FOREIGN KEY (agreement_id) REFERENCES agreement (id),
  CONSTRAINT agreement_change_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT agreement_change_value_range CHECK (value_minor >= 0)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS agreement_line (
  id BINARY(16) PRIMARY KEY,
  agreement_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  product_id BINARY(16) NULL,
  name VARCHAR(160) NOT NULL,
  quantity DECIMAL(12, 2) NOT NULL,
  price_minor BIGINT NOT NULL,
  discount_percent DECIMAL(5, 2) NOT NULL,
  billing ENUM('once', 'yearly') NOT NULL,
  KEY line_of_agreement (agreement_id, position),
  CONSTRAINT agreement_line_agreement_known FOREIGN KEY (agreement_id) REFERENCES agreement (id),
  CONSTRAINT agreement_line_product_known FOREIGN KEY (product_id) REFERENCES product (id),
  CONSTRAINT agreement_line_price_minor_range CHECK (price_minor >= 0),
  CONSTRAINT agreement_line_quantity_range CHECK (quantity >= 0),
  CONSTRAINT agreement_line_discount_percent_range CHECK (discount_percent BETWEEN 0 AND 100)
) ENGINE = InnoDB;

-- What an agreement brings in a year, from each day on which that becomes another; computed from its terms and changes.
CREATE TABLE IF NOT EXISTS agreement_value (
  agreement_id BINARY(16) NOT NULL,
  from_on DATE NOT NULL,
  yearly_minor BIGINT NOT NULL,
  PRIMARY KEY (agreement_id, from_on),
  CONSTRAINT agreement_value_of FOREIGN KEY (agreement_id) REFERENCES agreement (id) ON DELETE CASCADE
) ENGINE = InnoDB;

ALTER TABLE stored_file
  ADD COLUMN IF NOT EXISTS agreement_id BINARY(16) NULL AFTER deal_id;
ALTER TABLE stored_file
  ADD KEY IF NOT EXISTS file_agreement (agreement_id, created_at),
  ADD CONSTRAINT stored_file_agreement_known FOREIGN KEY IF NOT EXISTS (agreement_id) REFERENCES agreement (id);

-- Where the deals about what follows a term begin; without one it is made when the first is needed.
ALTER TABLE pipeline ADD COLUMN IF NOT EXISTS is_for_renewals TINYINT(1) NOT NULL DEFAULT 0;

-- What there is becomes a chain of one term; the day's work lets those roll on that renewed themselves meanwhile.
UPDATE agreement SET yearly_minor = IF(term_months < 12 AND renews_itself = 0, value_minor, ROUND(value_minor * 12 / term_months)),
       yearly_home_minor = IF(term_months < 12 AND renews_itself = 0, home_minor, ROUND(home_minor * 12 / term_months)),
       term_starts_on = starts_on, next_on = starts_on
 WHERE next_on IS NULL AND term_starts_on IS NULL;
INSERT IGNORE INTO agreement_term (agreement_id, n, starts_on, ends_on, months, value_minor, yearly_minor, how, deal_id, created_at)
SELECT id, 0, starts_on, ends_on, term_months, value_minor, yearly_minor, 'first', deal_id, created_at FROM agreement;
INSERT IGNORE INTO agreement_value (agreement_id, from_on, yearly_minor)
SELECT id, starts_on, yearly_minor FROM agreement WHERE yearly_minor > 0;
