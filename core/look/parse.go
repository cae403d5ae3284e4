package look

import (
	"fmt"
	"velours/core/strict"
)

// ParseLook reads and checks a look. Unknown fields, stations, kinds and settings are refused by name.
func ParseLook(data []byte) (*Look, error) {
	l := &Look{}
	if err := strict.JSON(migrate(data), l); err != nil {
		return nil, fmt.Errorf("not a look: %w", err)
	}
	if l.Velours < 1 || l.Velours > Version {
		return nil, versionError(l.Velours)
	}
	if err := l.Check(); err != nil {
		return nil, err
	}
	if part := l.unreadPart(); part != "" {
		return nil, fmt.Errorf("%s was kept unread by the program that wrote this look, and this one cannot tell what it does; take the look out of that program anew", part)
	}
	noted := l.Made != nil
	if !noted {
		l.Made = l.madeFirst()
	}
	l.noteEarlier(noted)
	return l, nil
}

func versionError(v int) error {
	return fmt.Errorf("a look of version %d; this program reads versions up to %d: load it with the newer program that wrote it", v, Version)
}
