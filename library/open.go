package library

import (
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"strings"
	"time"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Library is an open database. It is safe for concurrent use.
type Library struct{ db *gorm.DB }

// UserError is a failure that the person who started the program can act on: the text says what to do.
type UserError struct{ text string }

func (e *UserError) Error() string { return e.text }

func told(format string, args ...any) error { return &UserError{fmt.Sprintf(format, args...)} }

// Open opens or makes the database file. One of an older version is brought up to date, a copy of it kept beside
// (migrate.go); one of a newer version, or one that is damaged, is left as it is and refused. Every write is on the
// disk when its call returns, and survives a power cut (synchronous=FULL).
func Open(file string) (*Library, error) {
	st, err := os.Stat(file)
	fresh := errors.Is(err, os.ErrNotExist)
	switch {
	case fresh:
	case err != nil:
		return nil, told("%s: cannot be looked at (%v); check the folder", file, err)
	case st.IsDir():
		return nil, told("%s: is a folder; move it away", file)
	case st.Size() == 0:
		return nil, told("%s: is empty, so its reels are lost; put a copy back (%s), or remove it to begin anew", file, copiesOf(file))
	}
	if !fresh {
		if err := lookOver(file); err != nil {
			return nil, err
		}
	}
	name := (&url.URL{Scheme: "file", OmitHost: true, Path: file, RawQuery: "_journal_mode=WAL&_synchronous=FULL&_busy_timeout=5000&_foreign_keys=1"}).String()
	db, err := gorm.Open(sqlite.Open(name), &gorm.Config{Logger: logger.Default.LogMode(logger.Silent), TranslateError: true})
	if err != nil {
		return nil, told("%s: %s", file, why(file, err))
	}
	l := &Library{db}
	if err := l.prepare(file, fresh); err != nil {
		l.Close()
		var u *UserError
		if errors.As(err, &u) {
			return nil, err
		}
		return nil, told("%s: %s", file, why(file, err))
	}
	return l, nil
}

// lookOver refuses a file that cannot be used, before anything of it is touched.
func lookOver(file string) error {
	f, err := os.Open(file)
	if err != nil {
		return told("%s: %s", file, why(file, err))
	}
	head := make([]byte, 100) // SQLite file format, section 1.3
	_, err = io.ReadFull(f, head)
	f.Close()
	if err != nil || string(head[:16]) != "SQLite format 3\x00" {
		return told("%s: %s", file, why(file, errors.New("file is not a database")))
	}
	if v := int(int32(binary.BigEndian.Uint32(head[60:]))); v > SchemaVersion {
		return told("%s: was written by a newer Velours (schema %d, and this one knows up to %d); start that one, or put back a copy from before: %s", file, v, SchemaVersion, copiesOf(file))
	}
	query := "mode=ro&immutable=1"
	if _, err := os.Stat(file + "-wal"); err == nil { // what a killed program had not yet moved into the file counts
		query = "_busy_timeout=5000"
	}
	db, err := sql.Open("sqlite3", (&url.URL{Scheme: "file", OmitHost: true, Path: file, RawQuery: query}).String())
	if err != nil {
		return err
	}
	defer db.Close()
	if err := check(db); err != nil {
		return told("%s: %s", file, why(file, err))
	}
	return nil
}

func (l *Library) prepare(file string, fresh bool) error {
	pool, err := l.db.DB()
	if err != nil {
		return err
	}
	pool.SetMaxOpenConns(1) // SQLite writes one at a time; waiting here beats being refused there
	return l.migrate(file, fresh)
}

// check has the database check itself.
func check(db *sql.DB) error {
	rows, err := db.Query("PRAGMA quick_check(1)")
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var line string
		if err := rows.Scan(&line); err != nil {
			return err
		}
		if line != "ok" {
			return fmt.Errorf("database disk image is malformed: %s", strings.Join(strings.Fields(line), " "))
		}
	}
	return rows.Err()
}

// why words the cause of a failure of the database, and what to do.
func why(file string, err error) string {
	text := err.Error()
	is := func(words ...string) bool {
		for _, w := range words {
			if strings.Contains(text, w) {
				return true
			}
		}
		return false
	}
	switch {
	case is("malformed", "not a database", "disk I/O error"):
		return fmt.Sprintf("is damaged (%s); put a copy in its place: %s", text, copiesOf(file))
	case is("readonly", "read-only"):
		return "cannot be written to; check the permissions of the file and its folder, or start with another --data"
	case is("is full", "no space"):
		return "the disk is full; make room on it"
	case is("unable to open"):
		return "cannot be opened; check the permissions of the file and its folder, or start with another --data"
	case is("locked"):
		return "is in use by another program; end that one first"
	}
	return text
}

// Check has the database check itself whole; it returns nil if all is well.
func (l *Library) Check() error {
	pool, err := l.db.DB()
	if err != nil {
		return err
	}
	return check(pool)
}

// Close closes the database.
func (l *Library) Close() error {
	db, err := l.db.DB()
	if err != nil {
		return err
	}
	return db.Close()
}

// writeProblem words why a change could not be kept, if the disk is the cause; others pass.
func writeProblem(err error) error {
	if err == nil {
		return nil
	}
	for _, w := range []string{"readonly", "read-only", "is full", "no space", "disk I/O error", "malformed"} {
		if strings.Contains(err.Error(), w) {
			return told("the change could not be kept: the library %s; what was kept before is there", why("", err))
		}
	}
	return err
}

func now() time.Time { return time.Now() }
