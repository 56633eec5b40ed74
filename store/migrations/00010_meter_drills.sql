-- +goose Up
CREATE TABLE IF NOT EXISTS meter (
    one     TINYINT     NOT NULL PRIMARY KEY DEFAULT 1 COMMENT 'there is one',
    profile TEXT        NOT NULL COMMENT 'the builder''s own, in the open format of meters',
    changed DATETIME(3) NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
CREATE TABLE IF NOT EXISTS drills (
    id       BIGINT AUTO_INCREMENT PRIMARY KEY,
    code     VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    lesson   VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'that it was; empty: it was drawn',
    kind     VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'of the fault',
    spent    DOUBLE      NOT NULL COMMENT 'trouble',
    par      DOUBLE      NOT NULL COMMENT 'that the diagnosis would have spent',
    made_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'names the request',
    made     DATETIME(3) NOT NULL,
    UNIQUE KEY drills_made_key (made_key)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS drills;
DROP TABLE IF EXISTS meter;
