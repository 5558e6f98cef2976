-- Entries that were removed are found without reading the journal: a night's sweep asks for them five times.
ALTER TABLE journal_entry ADD KEY IF NOT EXISTS entry_removed (removed_at);
