package library

import (
	_ "embed"
	"fmt"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// The database says in its user_version which schema it has. Version 0 is one that was written before it did. Each
// migration brings it from the version before to its own, in one transaction with that number; those that have been
// released are never changed. A new database goes through all of them, so that there is one way to every schema.

//go:embed schema1.sql
var schema1 string

// migration is one step of the schema.
type migration struct {
	what string
	do   func(tx *gorm.DB) error
}

var migrations = []migration{
	{"the schema of November 2026", toSchema1},
	{"revisions, windows and kept cards", statements(
		"ALTER TABLE `shots` ADD COLUMN `revision` integer NOT NULL DEFAULT 0",
		"ALTER TABLE `changes` ADD COLUMN `window` text NOT NULL DEFAULT ''",
		"ALTER TABLE `changes` ADD COLUMN `revision` integer NOT NULL DEFAULT 0",
		"CREATE TABLE `cards` (`digest` text PRIMARY KEY, `kind` text NOT NULL, `key` text NOT NULL, `data` blob NOT NULL)",
	)},
	{"levels: looks of reels and scenes, and one past for all of them", statements(
		"ALTER TABLE `reels` ADD COLUMN `position` real NOT NULL DEFAULT 0",
		"ALTER TABLE `reels` ADD COLUMN `archived` numeric NOT NULL DEFAULT 0",
		"ALTER TABLE `reels` ADD COLUMN `removed` numeric NOT NULL DEFAULT 0",
		"ALTER TABLE `reels` ADD COLUMN `look` text NOT NULL DEFAULT '"+reelLook+"'",
		"ALTER TABLE `reels` ADD COLUMN `revision` integer NOT NULL DEFAULT 0",
		"UPDATE `reels` SET `position` = `id`",
		"CREATE TABLE `scenes` (`id` integer PRIMARY KEY AUTOINCREMENT, `reel_id` integer NOT NULL, `name` text NOT NULL, `position` real NOT NULL, `removed` numeric NOT NULL DEFAULT 0, `look` text NOT NULL, `revision` integer NOT NULL DEFAULT 0)",
		"CREATE INDEX `idx_scenes_reel_id` ON `scenes`(`reel_id`)",
		"INSERT INTO `scenes` (`reel_id`, `name`, `position`, `look`) SELECT `reel_id`, `scene`, min(`position`), '"+sceneLook+"' FROM `shots` WHERE `scene` <> '' GROUP BY `reel_id`, `scene` ORDER BY `reel_id`, min(`position`)",
		"ALTER TABLE `shots` ADD COLUMN `scene_id` integer NOT NULL DEFAULT 0",
		"ALTER TABLE `shots` ADD COLUMN `removed` numeric NOT NULL DEFAULT 0",
		"ALTER TABLE `shots` ADD COLUMN `flag` numeric NOT NULL DEFAULT 0",
		"ALTER TABLE `shots` ADD COLUMN `note` text NOT NULL DEFAULT ''",
		"UPDATE `shots` SET `scene_id` = coalesce((SELECT `id` FROM `scenes` WHERE `scenes`.`reel_id` = `shots`.`reel_id` AND `scenes`.`name` = `shots`.`scene`), 0)",
		"CREATE TABLE `pasts` (`id` integer PRIMARY KEY AUTOINCREMENT, `owner` text NOT NULL, `owner_id` integer NOT NULL, `reel_id` integer NOT NULL, `seq` integer NOT NULL, `done` numeric NOT NULL, `act` integer NOT NULL, `inverse` integer NOT NULL, `tick` integer NOT NULL, `made` integer NOT NULL, `label` text, `gesture` text, `before` text, `after` text, `encoded` text, `window` text NOT NULL DEFAULT '', `revision` integer NOT NULL DEFAULT 0, `at` datetime)",
		"INSERT INTO `pasts` SELECT c.`id`, 'shot', c.`shot_id`, s.`reel_id`, c.`seq`, c.`seq` < coalesce(s.`cursor`, 0), 0, 0, CASE WHEN c.`seq` < coalesce(s.`cursor`, 0) THEN c.`id` ELSE 2 * (SELECT max(`id`) FROM `changes`) - c.`id` END, c.`id`, c.`label`, c.`gesture`, c.`before`, c.`after`, c.`encoded`, c.`window`, c.`revision`, c.`at` FROM `changes` c JOIN `shots` s ON s.`id` = c.`shot_id`",
		"DROP TABLE `changes`",
		"ALTER TABLE `pasts` RENAME TO `changes`",
		"CREATE UNIQUE INDEX `past` ON `changes`(`owner`, `owner_id`, `seq`)",
		"CREATE INDEX `idx_changes_tick` ON `changes`(`tick`)",
		"CREATE INDEX `idx_changes_act` ON `changes`(`act`)",
		"CREATE INDEX `idx_changes_reel` ON `changes`(`reel_id`, `done`, `tick`)",
	)},
	{"trials, and where an act was made from", statements(
		"ALTER TABLE `changes` ADD COLUMN `origin` integer NOT NULL DEFAULT 0",
		"CREATE TABLE `trials` (`id` integer PRIMARY KEY AUTOINCREMENT, `reel_id` integer NOT NULL, `owner` text NOT NULL, `owner_id` integer NOT NULL, `number` integer NOT NULL, `name` text NOT NULL, `position` real NOT NULL, `removed` numeric NOT NULL DEFAULT 0, `answer` numeric NOT NULL DEFAULT 0, `look` text NOT NULL, `encoding` text NOT NULL, `revision` integer NOT NULL DEFAULT 0)",
		"CREATE UNIQUE INDEX `trial` ON `trials`(`owner`, `owner_id`, `number`)",
		"CREATE INDEX `idx_trials_reel_id` ON `trials`(`reel_id`)",
		"ALTER TABLE `deliveries` ADD COLUMN `trial` text NOT NULL DEFAULT ''",
	)},
}

// The looks with which reels and scenes of before levels begin: nothing, and what follows it.
const (
	reelLook  = `{"velours":2,"name":"","stations":{},"made":{"process":4}}`
	sceneLook = `{"velours":2,"name":"","stations":{"lens":{"on":true,"strength":1,"follows":true,"steps":[]},"negative":{"on":true,"strength":1,"follows":true,"steps":[]},"print":{"on":true,"strength":1,"follows":true,"steps":[]},"screen":{"on":true,"strength":1,"follows":true,"steps":[]}},"made":{"process":4}}`
)

// SchemaVersion is the schema that this program writes.
var SchemaVersion = len(migrations)

func statements(list ...string) func(tx *gorm.DB) error {
	return func(tx *gorm.DB) error {
		for _, s := range list {
			if err := tx.Exec(s).Error; err != nil {
				return fmt.Errorf("%s: %w", s, err)
			}
		}
		return nil
	}
}

var (
	tableLine  = regexp.MustCompile("^CREATE TABLE `(\\w+)` \\((.*)\\);$")
	columnPart = regexp.MustCompile("`(\\w+)` (integer|text|real|numeric|datetime|blob)( NOT NULL)?")
)

// toSchema1 makes the tables that are missing, and the columns that tables of a still older program lack.
func toSchema1(tx *gorm.DB) error {
	for line := range strings.Lines(schema1) {
		line = strings.TrimSpace(line)
		if m := tableLine.FindStringSubmatch(line); m != nil && tx.Migrator().HasTable(m[1]) {
			for _, c := range columnPart.FindAllStringSubmatch(m[2], -1) {
				if tx.Migrator().HasColumn(m[1], c[1]) {
					continue
				}
				add := fmt.Sprintf("ALTER TABLE `%s` ADD COLUMN `%s` %s", m[1], c[1], c[2])
				if c[3] != "" {
					add += " NOT NULL DEFAULT ''"
				}
				if err := tx.Exec(add).Error; err != nil {
					return err
				}
			}
			continue
		}
		for _, kind := range []string{"TABLE", "INDEX", "UNIQUE INDEX"} {
			line = strings.Replace(line, "CREATE "+kind+" `", "CREATE "+kind+" IF NOT EXISTS `", 1)
		}
		if line != "" {
			if err := tx.Exec(line).Error; err != nil {
				return fmt.Errorf("%s: %w", line, err)
			}
		}
	}
	return nil
}

func (l *Library) migrate(file string, fresh bool) error {
	var at int
	if err := l.db.Raw("PRAGMA user_version").Scan(&at).Error; err != nil {
		return err
	}
	if at < 0 {
		return told("%s: is not a library of Velours; move it away, or start with another --data", file)
	}
	if at == SchemaVersion {
		return nil
	}
	if !fresh {
		if err := l.keepCopy(file, at); err != nil {
			return err
		}
	}
	for ; at < SchemaVersion; at++ {
		m := migrations[at]
		err := l.db.Transaction(func(tx *gorm.DB) error {
			if err := m.do(tx); err != nil {
				return err
			}
			return tx.Exec(fmt.Sprintf("PRAGMA user_version = %d", at+1)).Error
		})
		if err != nil {
			return fmt.Errorf("bringing it to schema %d (%s): %w", at+1, m.what, err)
		}
	}
	return nil
}

// keepCopy copies the database as it is before it is changed.
func (l *Library) keepCopy(file string, version int) error {
	name := fmt.Sprintf("%s.schema%d-%s", file, version, now().Format("20060102-150405.000"))
	if err := l.db.Exec("VACUUM INTO ?", name).Error; err != nil {
		return fmt.Errorf("keeping a copy before the upgrade: %w", err)
	}
	return nil
}

// Copies are the copies that were kept of a database before upgrades, the newest first.
func Copies(file string) []string {
	list, err := filepath.Glob(file + ".schema*")
	if err != nil {
		return nil
	}
	slices.SortFunc(list, func(a, b string) int { return strings.Compare(stamp(b), stamp(a)) })
	return list
}

func stamp(name string) string { return name[strings.LastIndexByte(name, '-')+1:] }

// copiesOf words where copies are.
func copiesOf(file string) string {
	if list := Copies(file); len(list) > 0 {
		return "the newest is " + list[0]
	}
	return "there is none beside it, so take one from your own backup"
}
