-- On which of a unit's circuits a run was read, and which of its heads called; null where it has one of each, or nobody noted them.

ALTER TABLE runs ADD COLUMN circuit TEXT;
ALTER TABLE runs ADD COLUMN heads_calling TEXT CHECK (heads_calling IS NULL OR json_valid(heads_calling));
