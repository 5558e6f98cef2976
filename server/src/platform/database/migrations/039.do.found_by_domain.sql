-- Addresses and hosts from their end, so that an index finds whoever writes from a domain or has their site there.
ALTER TABLE contact
  ADD COLUMN IF NOT EXISTS email_back VARCHAR(254) AS (REVERSE(email)) PERSISTENT,
  ADD INDEX IF NOT EXISTS contact_email_back (email_back);
ALTER TABLE company
  ADD COLUMN IF NOT EXISTS host_back VARCHAR(200)
    AS (REVERSE(SUBSTRING_INDEX(SUBSTRING_INDEX(SUBSTRING_INDEX(website, '://', -1), '/', 1), ':', 1))) PERSISTENT,
  ADD INDEX IF NOT EXISTS company_host_back (host_back);
