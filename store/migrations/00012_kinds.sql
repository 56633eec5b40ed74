-- +goose Up
CREATE TABLE IF NOT EXISTS kinds (
    id      VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
    n       INT         NOT NULL COMMENT 'how often it was kept',
    kind    MEDIUMTEXT  NOT NULL COMMENT 'in the open format of parts',
    changed DATETIME(3) NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS kinds;
