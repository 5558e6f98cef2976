-- Leads have fields that an admin defines, as contacts, companies and deals have.
ALTER TABLE custom_field MODIFY COLUMN subject ENUM('contact', 'company', 'deal', 'lead') NOT NULL;

-- Views of the list of mail are saved, as those of other lists are.
ALTER TABLE saved_view MODIFY COLUMN place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements', 'mail') NOT NULL;
ALTER TABLE landing_view MODIFY COLUMN place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements', 'mail') NOT NULL;
