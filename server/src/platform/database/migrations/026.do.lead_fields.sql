-- Leads have fields that an admin defines, as contacts, companies and deals have.
ALTER TABLE custom_field MODIFY COLUMN subject ENUM('contact', 'company', 'deal', 'lead') NOT NULL;
