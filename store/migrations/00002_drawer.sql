-- +goose Up
CREATE TABLE IF NOT EXISTS drawer (
    id       CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
    kind     VARCHAR(60)  NOT NULL,
    type     VARCHAR(60)  NOT NULL,
    name     VARCHAR(500) NOT NULL,
    vals     TEXT         NOT NULL COMMENT 'values of the part as JSON, in SI base units',
    pieces   INT          NOT NULL,
    measured BOOLEAN      NOT NULL COMMENT 'its first value was measured',
    changed  DATETIME(3)  NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS drawer;
