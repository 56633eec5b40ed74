-- +goose Up
CREATE TABLE IF NOT EXISTS entries (
    id       BIGINT AUTO_INCREMENT PRIMARY KEY,
    build    CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    revision INT          NOT NULL COMMENT 'of the build, when it was made',
    kind     VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    part     VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'that it is about',
    text     TEXT         NOT NULL COMMENT 'as it is searched',
    data     MEDIUMTEXT   NOT NULL COMMENT 'the entry as JSON',
    made_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'names the request',
    made     DATETIME(3)  NOT NULL,
    gone     DATETIME(3)  NULL COMMENT 'when it was taken out of the book; it can be put back',
    UNIQUE KEY entries_made_key (build, made_key),
    KEY entries_build (build, id),
    CONSTRAINT entries_of_build FOREIGN KEY (build) REFERENCES builds (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS entries;
