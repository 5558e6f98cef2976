-- What was in the journal already is counted once.
INSERT IGNORE INTO contact_count (id, mail_in_many, mail_in_first, mail_in_last, mail_out_many, mail_out_first, mail_out_last, call_many, call_first, call_last, text_many, text_first, text_last, meeting_many, meeting_first, meeting_last, conversation_many, conversation_first, conversation_last, note_many, note_first, note_last)
SELECT l.id, SUM(e.kind = 'email' AND e.direction <=> 'in'), MIN(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)),
  SUM(e.kind = 'email' AND e.direction <=> 'out'), MIN(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)),
  SUM(e.kind = 'call'), MIN(IF(e.kind = 'call', e.at, NULL)), MAX(IF(e.kind = 'call', e.at, NULL)),
  SUM(e.kind = 'text'), MIN(IF(e.kind = 'text', e.at, NULL)), MAX(IF(e.kind = 'text', e.at, NULL)),
  SUM(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation'), MIN(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)), MAX(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)),
  SUM(e.counts = 'conversation'), MIN(IF(e.counts = 'conversation', e.at, NULL)), MAX(IF(e.counts = 'conversation', e.at, NULL)),
  SUM(e.kind = 'note'), MIN(IF(e.kind = 'note', e.at, NULL)), MAX(IF(e.kind = 'note', e.at, NULL))
  FROM (SELECT contact_id AS id, id AS entry_id FROM journal_entry WHERE contact_id IS NOT NULL
        UNION SELECT contact_id, entry_id FROM entry_person) l
  JOIN contact s ON s.id = l.id
  JOIN journal_entry e ON e.id = l.entry_id AND e.removed_at IS NULL AND e.kind <> 'system'
 GROUP BY l.id;
INSERT IGNORE INTO company_count (id, mail_in_many, mail_in_first, mail_in_last, mail_out_many, mail_out_first, mail_out_last, call_many, call_first, call_last, text_many, text_first, text_last, meeting_many, meeting_first, meeting_last, conversation_many, conversation_first, conversation_last, note_many, note_first, note_last)
SELECT e.company_id, SUM(e.kind = 'email' AND e.direction <=> 'in'), MIN(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)),
  SUM(e.kind = 'email' AND e.direction <=> 'out'), MIN(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)),
  SUM(e.kind = 'call'), MIN(IF(e.kind = 'call', e.at, NULL)), MAX(IF(e.kind = 'call', e.at, NULL)),
  SUM(e.kind = 'text'), MIN(IF(e.kind = 'text', e.at, NULL)), MAX(IF(e.kind = 'text', e.at, NULL)),
  SUM(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation'), MIN(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)), MAX(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)),
  SUM(e.counts = 'conversation'), MIN(IF(e.counts = 'conversation', e.at, NULL)), MAX(IF(e.counts = 'conversation', e.at, NULL)),
  SUM(e.kind = 'note'), MIN(IF(e.kind = 'note', e.at, NULL)), MAX(IF(e.kind = 'note', e.at, NULL))
  FROM journal_entry e JOIN company s ON s.id = e.company_id
 WHERE e.removed_at IS NULL AND e.kind <> 'system'
 GROUP BY e.company_id;
INSERT IGNORE INTO deal_count (id, mail_in_many, mail_in_first, mail_in_last, mail_out_many, mail_out_first, mail_out_last, call_many, call_first, call_last, text_many, text_first, text_last, meeting_many, meeting_first, meeting_last, conversation_many, conversation_first, conversation_last, note_many, note_first, note_last)
SELECT e.deal_id, SUM(e.kind = 'email' AND e.direction <=> 'in'), MIN(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'in', e.at, NULL)),
  SUM(e.kind = 'email' AND e.direction <=> 'out'), MIN(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)), MAX(IF(e.kind = 'email' AND e.direction <=> 'out', e.at, NULL)),
  SUM(e.kind = 'call'), MIN(IF(e.kind = 'call', e.at, NULL)), MAX(IF(e.kind = 'call', e.at, NULL)),
  SUM(e.kind = 'text'), MIN(IF(e.kind = 'text', e.at, NULL)), MAX(IF(e.kind = 'text', e.at, NULL)),
  SUM(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation'), MIN(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)), MAX(IF(e.kind IN ('meeting', 'visit') AND e.counts = 'conversation', e.at, NULL)),
  SUM(e.counts = 'conversation'), MIN(IF(e.counts = 'conversation', e.at, NULL)), MAX(IF(e.counts = 'conversation', e.at, NULL)),
  SUM(e.kind = 'note'), MIN(IF(e.kind = 'note', e.at, NULL)), MAX(IF(e.kind = 'note', e.at, NULL))
  FROM journal_entry e JOIN deal s ON s.id = e.deal_id
 WHERE e.removed_at IS NULL AND e.kind <> 'system'
 GROUP BY e.deal_id;
