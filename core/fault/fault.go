// Package fault keeps a panic where it happened: it becomes an error of the work that met it, and the rest of the
// program goes on. Whoever starts a goroutine, or answers for one piece of work among many, catches here.
package fault

import (
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
)

// Error is a panic that was caught: what was panicked with, and the stack at that place.
type Error struct {
	What  any
	Stack []byte
}

func (e *Error) Error() string {
	return fmt.Sprintf("a fault in the program stopped this, and nothing else (%v)", e.What)
}

// Unwrap is what was panicked with, if that was an error.
func (e *Error) Unwrap() error {
	err, _ := e.What.(error)
	return err
}

// Catch, deferred, puts a panic into err as an Error. A panic that was caught before, in another goroutine, keeps the
// stack that it had there.
func Catch(err *error) {
	what := recover()
	if what == nil {
		return
	}
	var before *Error
	if e, ok := what.(error); ok && errors.As(e, &before) {
		*err = before
		return
	}
	*err = &Error{what, debug.Stack()}
}

// Do is f, whose panic is an error.
func Do(f func() error) (err error) {
	defer Catch(&err)
	return f()
}

// Log writes an error's stack to the log if it was a panic, and tells whether it was. doing says what was being done,
// attributes are those of slog.
func Log(doing string, err error, attributes ...any) bool {
	var e *Error
	if !errors.As(err, &e) {
		return false
	}
	slog.Error("a fault in the program", append([]any{"doing", doing, "what", fmt.Sprint(e.What), "stack", string(e.Stack)}, attributes...)...)
	return true
}
