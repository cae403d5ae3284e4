package library

import (
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
)

// Exec runs statements on a database's file as it is: for tests of what a file may hold.
func Exec(file string, statements ...string) error {
	db, err := gorm.Open(sqlite.Open(file), &gorm.Config{})
	if err != nil {
		return err
	}
	l := &Library{db}
	defer l.Close()
	for _, s := range statements {
		if err := db.Exec(s).Error; err != nil {
			return err
		}
	}
	return nil
}

// Empty forgets what a table holds, and its numbers begin again, as in a library that was begun anew.
func Empty(l *Library, table string) error {
	if err := l.db.Exec("DELETE FROM " + table).Error; err != nil {
		return err
	}
	return l.db.Exec("DELETE FROM sqlite_sequence WHERE name = ?", table).Error
}

// CheckFile has a database's file check itself whole (PRAGMA integrity_check).
func CheckFile(file string) error {
	db, err := gorm.Open(sqlite.Open(file), &gorm.Config{})
	if err != nil {
		return err
	}
	l := &Library{db}
	defer l.Close()
	var lines []string
	if err := db.Raw("PRAGMA integrity_check").Scan(&lines).Error; err != nil {
		return err
	}
	if len(lines) != 1 || lines[0] != "ok" {
		return told("%s: %v", file, lines)
	}
	return nil
}
