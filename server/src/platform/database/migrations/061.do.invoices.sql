-- What a customer was asked to pay, word for word, and credit notes of it. Neither is changed or deleted: a credit note takes an invoice back.
CREATE TABLE IF NOT EXISTS invoice (
  id BINARY(16) PRIMARY KEY,
  kind ENUM('invoice', 'credit') NOT NULL,
  number INT NOT NULL,
  deal_id BINARY(16) NOT NULL,
  quote_id BINARY(16) NULL,
  credit_of_id BINARY(16) NULL,
  user_id BINARY(16) NOT NULL,
  name VARCHAR(160) NOT NULL,
  customer VARCHAR(250) NOT NULL,
  currency CHAR(3) NOT NULL,
  issued_on DATE NOT NULL,
  due_on DATE NOT NULL,
  content JSON NOT NULL,
  total_minor BIGINT NOT NULL,
  -- The step that asks about it once it is overdue.
  task_id BINARY(16) NULL,
  reason VARCHAR(300) NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY invoice_number (kind, number),
  KEY invoice_deal (deal_id, created_at),
  KEY invoice_quote (quote_id),
  KEY invoice_credit_of (credit_of_id),
  KEY invoice_user (user_id),
  KEY invoice_task (task_id),
  KEY invoice_due (kind, due_on),
  CONSTRAINT invoice_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id),
  CONSTRAINT invoice_quote_known FOREIGN KEY (quote_id) REFERENCES quote (id),
  CONSTRAINT invoice_credit_of_known FOREIGN KEY (credit_of_id) REFERENCES invoice (id),
  CONSTRAINT invoice_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT invoice_task_known FOREIGN KEY (task_id) REFERENCES task (id),
  CONSTRAINT invoice_amounts CHECK (total_minor >= 0 AND number > 0 AND due_on >= issued_on)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS payment (
  id BINARY(16) PRIMARY KEY,
  invoice_id BINARY(16) NOT NULL,
  on_day DATE NOT NULL,
  minor BIGINT NOT NULL,
  words VARCHAR(200) NOT NULL,
  user_id BINARY(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY payment_invoice (invoice_id, on_day),
  KEY payment_user (user_id),
  CONSTRAINT payment_invoice_known FOREIGN KEY (invoice_id) REFERENCES invoice (id),
  CONSTRAINT payment_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT payment_amount CHECK (minor > 0)
) ENGINE = InnoDB;
