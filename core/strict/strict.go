// Package strict reads JSON that must say no more than is understood.
package strict

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"strings"
)

// JSON reads one JSON value into v. It fails for fields that v does not have, and for what follows the value; the error
// names the field.
func JSON(data []byte, v any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(v); err != nil {
		return Plain(err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return errors.New("there is more after its end")
	}
	return nil
}

// Plain words an error of encoding/json without the package's own terms; others stay as they are.
func Plain(err error) error {
	text := strings.TrimPrefix(strings.ReplaceAll(err.Error(), "Go struct field ", ""), "json: ")
	if text == err.Error() {
		return err
	}
	return errors.New(text)
}
