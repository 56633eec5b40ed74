-- +goose Up
CREATE TABLE IF NOT EXISTS board_revisions (
    id      VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    n       INT         NOT NULL,
    profile MEDIUMTEXT  NOT NULL COMMENT 'in the open format of boards',
    created DATETIME(3) NOT NULL,
    PRIMARY KEY (id, n)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
ALTER TABLE boards ADD COLUMN IF NOT EXISTS n INT NOT NULL DEFAULT 1 COMMENT 'the newest revision';
INSERT IGNORE INTO board_revisions (id, n, profile, created) SELECT id, n, profile, changed FROM boards;
UPDATE revisions SET board_n = 1 WHERE board_n = 0 AND board IN (SELECT id FROM boards);

-- +goose Down
DROP TABLE IF EXISTS board_revisions;
ALTER TABLE boards DROP COLUMN n;
