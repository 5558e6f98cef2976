-- What a person's Round rests on: another value with every change of it, in the same transaction.
CREATE TABLE IF NOT EXISTS round_revision (
  user_id BINARY(16) NOT NULL PRIMARY KEY,
  revision BINARY(16) NOT NULL,
  CONSTRAINT round_revision_user FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE
);
