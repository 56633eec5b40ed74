-- What a builder may ask for is compared with these, in any letters: a column of ASCII
-- alone refuses the comparison.
-- +goose Up
ALTER TABLE entries
    MODIFY kind VARCHAR(20) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    MODIFY part VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'that it is about';

-- +goose Down
ALTER TABLE entries
    MODIFY kind VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    MODIFY part VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'that it is about';
