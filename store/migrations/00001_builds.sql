-- +goose Up
CREATE TABLE IF NOT EXISTS builds (
    id      CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
    head    INT         NOT NULL COMMENT 'the revision that is shown; undo and redo move it',
    version BIGINT      NOT NULL COMMENT 'counts every change, undo and redo included',
    created DATETIME(3) NOT NULL,
    changed DATETIME(3) NOT NULL,
    deleted DATETIME(3) NULL,
    demo    VARCHAR(64) NULL COMMENT 'the demo file it came from, so that it is loaded once',
    UNIQUE KEY builds_demo (demo),
    KEY builds_changed (deleted, changed)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS revisions (
    build    CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    n        INT           NOT NULL,
    parent   INT           NOT NULL COMMENT 'the revision it was made from; 0 for the first',
    title    VARCHAR(500)  NOT NULL,
    board    VARCHAR(100)  NOT NULL,
    document MEDIUMTEXT    NOT NULL,
    summary  VARCHAR(2000) NOT NULL COMMENT 'what was done, in words',
    stops    INT           NOT NULL,
    cares    INT           NOT NULL,
    notes    INT           NOT NULL,
    edit_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'names the request, so that a repeated one is made once',
    created  DATETIME(3)   NOT NULL,
    PRIMARY KEY (build, n),
    UNIQUE KEY revisions_edit_key (build, edit_key),
    KEY revisions_parent (build, parent, n),
    CONSTRAINT revisions_build FOREIGN KEY (build) REFERENCES builds (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- +goose Down
DROP TABLE IF EXISTS revisions;
DROP TABLE IF EXISTS builds;
