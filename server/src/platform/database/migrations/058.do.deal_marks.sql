-- What an open deal was worth, how likely it was and when it was to close, day by day: how a forecast changed cannot be told from what holds now.
CREATE TABLE IF NOT EXISTS deal_mark (
  on_day DATE NOT NULL,
  deal_id BINARY(16) NOT NULL,
  owner_id BINARY(16) NOT NULL,
  pipeline_id BINARY(16) NOT NULL,
  minor BIGINT NULL,
  win_chance DECIMAL(5, 4) NOT NULL,
  expected_close_on DATE NULL,
  PRIMARY KEY (on_day, deal_id),
  KEY deal_mark_owner (owner_id, on_day),
  CONSTRAINT deal_mark_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE,
  CONSTRAINT deal_mark_owner_known FOREIGN KEY (owner_id) REFERENCES app_user (id),
  CONSTRAINT deal_mark_pipeline_known FOREIGN KEY (pipeline_id) REFERENCES pipeline (id)
) ENGINE = InnoDB;
