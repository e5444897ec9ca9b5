"""Tables of the hull file."""

from typing import Final

SCHEMA: Final = """
-- One row per fact about the survey: engine, version, name, surveyed_at, tool, the fingerprint of all that it read, and what
-- the scripts call the default schema.
CREATE TABLE hull (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
-- The files that were read; digest is the SHA-256 of their bytes.
CREATE TABLE file (path TEXT PRIMARY KEY, lines INTEGER NOT NULL, statements INTEGER NOT NULL,
                   directives INTEGER NOT NULL, digest TEXT NOT NULL) WITHOUT ROWID;
-- The objects, in the order met. belongs_to is the table of a constraint, index or trigger.
-- details, constraint_json and index_json are JSON.
CREATE TABLE object (position INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, type TEXT NOT NULL, schema TEXT NOT NULL,
                     name TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL, lines INTEGER NOT NULL,
                     belongs_to TEXT NOT NULL, details TEXT NOT NULL, constraint_json TEXT, index_json TEXT,
                     comment TEXT NOT NULL,
                     default_schema TEXT NOT NULL, text TEXT NOT NULL);
-- The columns of tables and the attributes of types; arguments is a JSON array. definition is the
-- text of a column that ALTER TABLE brought.
CREATE TABLE column_ (object TEXT NOT NULL, position INTEGER NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL,
                      arguments TEXT NOT NULL, unit TEXT NOT NULL, nullable INTEGER NOT NULL, default_ TEXT NOT NULL,
                      default_on_null INTEGER NOT NULL, identity TEXT NOT NULL, generated TEXT NOT NULL,
                      comment TEXT NOT NULL, line INTEGER NOT NULL, definition TEXT NOT NULL,
                      PRIMARY KEY (object, position)) WITHOUT ROWID;
-- The routines inside code objects; parameters is a JSON array; complexity counts decisions plus one.
CREATE TABLE routine (object TEXT NOT NULL, name TEXT NOT NULL, form TEXT NOT NULL, line INTEGER NOT NULL,
                      lines INTEGER NOT NULL, complexity INTEGER NOT NULL, parameters TEXT NOT NULL,
                      returns TEXT NOT NULL, nested INTEGER NOT NULL);
-- What an object uses of another: kind is table, column, routine, sequence or type.
CREATE TABLE reference (object TEXT NOT NULL, kind TEXT NOT NULL, name TEXT NOT NULL, target TEXT NOT NULL,
                        line INTEGER NOT NULL);
-- Text that could not be read, and why; whole = 1 where a statement as a whole is unread.
CREATE TABLE unread (object TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL, column_ INTEGER NOT NULL,
                     end_line INTEGER NOT NULL, end_column INTEGER NOT NULL, lines INTEGER NOT NULL,
                     reason TEXT NOT NULL, excerpt TEXT NOT NULL, whole INTEGER NOT NULL);
-- Each occurrence of a construct; needs (JSON) says what must hold of columns for it to count.
CREATE TABLE sighting (construct TEXT NOT NULL, object TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL,
                       column_ INTEGER NOT NULL, end_line INTEGER NOT NULL, end_column INTEGER NOT NULL,
                       excerpt TEXT NOT NULL, detail TEXT NOT NULL, needs TEXT NOT NULL);
-- What was read of files that belong together (compressed MessagePack), so that unchanged files need not be read again.
CREATE TABLE part (key TEXT PRIMARY KEY, content BLOB NOT NULL) WITHOUT ROWID;
-- Settings of server and database, of a running source.
CREATE TABLE setting (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
-- What a profile found of columns (column_ = '' for a table): of seen rows out of total, count say yes; value is a greatest.
CREATE TABLE measure (object TEXT NOT NULL, column_ TEXT NOT NULL, question TEXT NOT NULL, count INTEGER NOT NULL,
                      value INTEGER NOT NULL, seen INTEGER NOT NULL, total INTEGER NOT NULL);
-- Assessments made: the whole document (compressed JSON).
CREATE TABLE assessment (target TEXT NOT NULL, made_at TEXT NOT NULL, document BLOB NOT NULL);
-- What the last judgement for a target came to, and of each object its source and draft (compressed JSON); they hold as long
-- as survey, tool, decisions and trials are those that `mark` tells of.
CREATE TABLE kept (target TEXT PRIMARY KEY, mark TEXT NOT NULL, document BLOB NOT NULL) WITHOUT ROWID;
-- See kept.
CREATE TABLE look (target TEXT NOT NULL, object TEXT NOT NULL, content BLOB NOT NULL,
                   PRIMARY KEY (target, object)) WITHOUT ROWID;
-- What work on objects really took, in hours; done = 1 where it is finished.
CREATE TABLE actual (object TEXT PRIMARY KEY, hours REAL NOT NULL, done INTEGER NOT NULL) WITHOUT ROWID;
-- What drafting told by target: what it could not do after all (construct draft.skipped, with the reason) and what it converted.
-- The row of no object holds what the drafts were made with.
CREATE TABLE drafting (target TEXT NOT NULL, object TEXT NOT NULL, line INTEGER NOT NULL, construct TEXT NOT NULL,
                       reason TEXT NOT NULL);
-- The drafts that go with it, in pieces (compressed MessagePack); they hold with what the row of no object tells of.
CREATE TABLE draft (target TEXT NOT NULL, piece INTEGER NOT NULL, content BLOB NOT NULL, PRIMARY KEY (target, piece));
-- The last trial by target: accepted 1 or 0, the engine's own message, and the source line it points at.
CREATE TABLE trial (target TEXT NOT NULL, engine TEXT NOT NULL, object TEXT NOT NULL, accepted INTEGER NOT NULL,
                    message TEXT NOT NULL, line INTEGER NOT NULL, milliseconds REAL NOT NULL);
-- The last comparison of behaviour by target: one row for each case, with the object that it tells of and where both differ.
CREATE TABLE behaviour (target TEXT NOT NULL, name TEXT NOT NULL, object TEXT NOT NULL, equal INTEGER NOT NULL,
                        difference TEXT NOT NULL);
"""
