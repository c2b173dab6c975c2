package store

import (
	"errors"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble is what keeps the database from working, in words that a person can act on; empty
// for what is nobody's but the program's.
func Trouble(err error) string {
	var e *sqlite.Error
	if !errors.As(err, &e) {
		return ""
	}
	switch e.Code() & 0xff { // the rest says where
	case sqlite3.SQLITE_FULL:
		return "The disk is full, so nothing of this step was saved. Make room on it, then send this again; what was saved before is safe."
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return "Another program holds the database just now, so nothing of this step was saved. Wait a moment, then send this again."
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_PERM, sqlite3.SQLITE_CANTOPEN:
		return "The folder of the data cannot be written to, so nothing of this step was saved. Whoever looks after this computer has " +
			"to give the program its folder back."
	case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return "The database is damaged. Stop the program, keep the file as it is, and bring the last good copy back beside it: " +
			"restbend restore COPY --data FOLDER --aside."
	case sqlite3.SQLITE_IOERR:
		return "The disk does not do what it is told, so nothing of this step was saved. Copy the folder of the data to another disk " +
			"before anything else."
	}
	return ""
}
