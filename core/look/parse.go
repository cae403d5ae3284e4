package look

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
)

// ParseLook reads and checks a look. Unknown fields, stations, kinds and settings are refused by name.
func ParseLook(data []byte) (*Look, error) {
	l := &Look{}
	if err := strict(migrate(data), l); err != nil {
		return nil, fmt.Errorf("not a look: %s", plain(err))
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
	if l.Made == nil {
		l.Made = l.madeFirst()
	}
	return l, nil
}

func versionError(v int) error {
	return fmt.Errorf("a look of version %d; this program reads versions up to %d: load it with the newer program that wrote it", v, Version)
}

// strict decodes one JSON value, refusing unknown fields and what follows it.
func strict(data []byte, v any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(v); err != nil {
		return err
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return errors.New("there is more after its end")
	}
	return nil
}

// plain words a JSON error without the package's name.
func plain(err error) string {
	return strings.TrimPrefix(strings.ReplaceAll(err.Error(), "Go struct field ", ""), "json: ")
}
