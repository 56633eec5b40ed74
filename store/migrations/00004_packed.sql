-- +goose Up
ALTER TABLE revisions
    MODIFY document MEDIUMTEXT NULL COMMENT 'as JSON, of revisions that are older than packed',
    ADD COLUMN IF NOT EXISTS packed MEDIUMBLOB NULL COMMENT 'the document, deflated',
    ADD COLUMN IF NOT EXISTS dictionary INT NOT NULL DEFAULT 0 COMMENT 'the revision whose document packed was deflated with; 0: none',
    ADD COLUMN IF NOT EXISTS edit_hash BINARY(32) NULL COMMENT 'of what the request asked for, so that its key is not used for another',
    ADD COLUMN IF NOT EXISTS board_n INT NOT NULL DEFAULT 0 COMMENT 'the revision of a board of the builder''s own; 0: the newest';

-- +goose Down
ALTER TABLE revisions DROP COLUMN packed, DROP COLUMN dictionary, DROP COLUMN edit_hash, DROP COLUMN board_n;
