-- What the Round reckons with is learned where nobody set it: values that are stored only because the others were saved beside them are not set.
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.reply') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.reply') = 0.62;
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.lead') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.lead') = 0.3;
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.task') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.task') = 0.6;
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.step') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.step') = 0.15;
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.waking') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.waking') = 0.4;
UPDATE setting SET value = JSON_REMOVE(value, '$.p0.stirring') WHERE name = 'round' AND JSON_VALUE(value, '$.p0.stirring') = 0.25;
UPDATE setting SET value = JSON_REMOVE(value, '$.silenceLossChance') WHERE name = 'round' AND JSON_VALUE(value, '$.silenceLossChance') = 0.08;
UPDATE setting SET value = JSON_REMOVE(value, '$.renewalHalfDays') WHERE name = 'round' AND JSON_VALUE(value, '$.renewalHalfDays') = 20;
UPDATE setting SET value = JSON_REMOVE(value, '$.renewalLastDay') WHERE name = 'round' AND JSON_VALUE(value, '$.renewalLastDay') = 0.4;
UPDATE setting SET value = JSON_REMOVE(value, '$.dealFloor') WHERE name = 'round' AND JSON_VALUE(value, '$.dealFloor') = 0.2;
UPDATE setting SET value = JSON_REMOVE(value, '$.leadMinor')
 WHERE name = 'round' AND COALESCE(JSON_VALUE(value, '$.learnsLead'), 'true') NOT IN ('false', '0');
UPDATE setting SET value = JSON_REMOVE(value, '$.learnsLead') WHERE name = 'round' AND JSON_EXISTS(value, '$.learnsLead');
