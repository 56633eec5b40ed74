-- +goose Up
ALTER TABLE builds
    ADD COLUMN IF NOT EXISTS make_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'names the request that made it',
    ADD UNIQUE KEY IF NOT EXISTS builds_make_key (make_key);

-- +goose Down
ALTER TABLE builds DROP COLUMN make_key;
