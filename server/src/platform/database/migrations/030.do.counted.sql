-- What happened with a contact, a company or a deal, counted: how often, when first, when last. Derived from the journal; a record that
-- nothing happened with has no row.
CREATE TABLE IF NOT EXISTS contact_count (
  id BINARY(16) PRIMARY KEY,
  mail_in_many INT NOT NULL DEFAULT 0, mail_in_first DATETIME(3) NULL, mail_in_last DATETIME(3) NULL,
  mail_out_many INT NOT NULL DEFAULT 0, mail_out_first DATETIME(3) NULL, mail_out_last DATETIME(3) NULL,
  call_many INT NOT NULL DEFAULT 0, call_first DATETIME(3) NULL, call_last DATETIME(3) NULL,
  text_many INT NOT NULL DEFAULT 0, text_first DATETIME(3) NULL, text_last DATETIME(3) NULL,
  meeting_many INT NOT NULL DEFAULT 0, meeting_first DATETIME(3) NULL, meeting_last DATETIME(3) NULL,
  conversation_many INT NOT NULL DEFAULT 0, conversation_first DATETIME(3) NULL, conversation_last DATETIME(3) NULL,
  note_many INT NOT NULL DEFAULT 0, note_first DATETIME(3) NULL, note_last DATETIME(3) NULL,
  CONSTRAINT count_of_contact FOREIGN KEY (id) REFERENCES contact (id) ON DELETE CASCADE
);
CREATE TABLE IF NOT EXISTS company_count (
  id BINARY(16) PRIMARY KEY,
  mail_in_many INT NOT NULL DEFAULT 0, mail_in_first DATETIME(3) NULL, mail_in_last DATETIME(3) NULL,
  mail_out_many INT NOT NULL DEFAULT 0, mail_out_first DATETIME(3) NULL, mail_out_last DATETIME(3) NULL,
  call_many INT NOT NULL DEFAULT 0, call_first DATETIME(3) NULL, call_last DATETIME(3) NULL,
  text_many INT NOT NULL DEFAULT 0, text_first DATETIME(3) NULL, text_last DATETIME(3) NULL,
  meeting_many INT NOT NULL DEFAULT 0, meeting_first DATETIME(3) NULL, meeting_last DATETIME(3) NULL,
  conversation_many INT NOT NULL DEFAULT 0, conversation_first DATETIME(3) NULL, conversation_last DATETIME(3) NULL,
  note_many INT NOT NULL DEFAULT 0, note_first DATETIME(3) NULL, note_last DATETIME(3) NULL,
  CONSTRAINT count_of_company FOREIGN KEY (id) REFERENCES company (id) ON DELETE CASCADE
);
CREATE TABLE IF NOT EXISTS deal_count (
  id BINARY(16) PRIMARY KEY,
  mail_in_many INT NOT NULL DEFAULT 0, mail_in_first DATETIME(3) NULL, mail_in_last DATETIME(3) NULL,
  mail_out_many INT NOT NULL DEFAULT 0, mail_out_first DATETIME(3) NULL, mail_out_last DATETIME(3) NULL,
  call_many INT NOT NULL DEFAULT 0, call_first DATETIME(3) NULL, call_last DATETIME(3) NULL,
  text_many INT NOT NULL DEFAULT 0, text_first DATETIME(3) NULL, text_last DATETIME(3) NULL,
  meeting_many INT NOT NULL DEFAULT 0, meeting_first DATETIME(3) NULL, meeting_last DATETIME(3) NULL,
  conversation_many INT NOT NULL DEFAULT 0, conversation_first DATETIME(3) NULL, conversation_last DATETIME(3) NULL,
  note_many INT NOT NULL DEFAULT 0, note_first DATETIME(3) NULL, note_last DATETIME(3) NULL,
  CONSTRAINT count_of_deal FOREIGN KEY (id) REFERENCES deal (id) ON DELETE CASCADE
);
