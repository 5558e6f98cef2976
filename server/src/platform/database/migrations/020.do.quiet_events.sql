-- Bulk work writes an event for each record too; open browsers are told of its progress instead.
ALTER TABLE event ADD COLUMN IF NOT EXISTS told TINYINT(1) NOT NULL DEFAULT 1 AFTER cause;
ALTER TABLE event DROP INDEX IF EXISTS event_order, ADD INDEX IF NOT EXISTS event_told (told, at, id);
