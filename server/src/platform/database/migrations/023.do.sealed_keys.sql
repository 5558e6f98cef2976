-- Keys and the secrets of second factors are sealed with a key that lies outside the database.
ALTER TABLE secret MODIFY value VARBINARY(200) NOT NULL;
ALTER TABLE second_factor MODIFY secret VARBINARY(200) NOT NULL;
