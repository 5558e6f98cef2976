-- Quotas stand in their own table by now, by month.
ALTER TABLE app_user DROP CONSTRAINT IF EXISTS app_user_monthly_quota_minor_range;
ALTER TABLE app_user DROP COLUMN IF EXISTS monthly_quota_minor;
