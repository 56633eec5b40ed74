-- +goose Up
CREATE TABLE IF NOT EXISTS pictures (
    entry  BIGINT     NOT NULL PRIMARY KEY COMMENT 'the line of the log that it is in',
    width  INT        NOT NULL,
    height INT        NOT NULL,
    whole  MEDIUMBLOB NOT NULL COMMENT 'JPEG',
    small  MEDIUMBLOB NOT NULL COMMENT 'JPEG',
    CONSTRAINT pictures_entry FOREIGN KEY (entry) REFERENCES entries (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS pictures;
