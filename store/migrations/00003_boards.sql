-- +goose Up
CREATE TABLE IF NOT EXISTS boards (
    id      VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
    profile MEDIUMTEXT  NOT NULL COMMENT 'in the open format of boards',
    changed DATETIME(3) NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS boards;
