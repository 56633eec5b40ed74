-- +goose Up
CREATE TABLE IF NOT EXISTS tags (
    name    VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
    version BIGINT      NOT NULL COMMENT 'counts every change of what has the name'
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
INSERT IGNORE INTO tags (name, version) VALUES ('drawer', 1);

-- +goose Down
DROP TABLE IF EXISTS tags;
