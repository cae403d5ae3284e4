package fault

import (
	"errors"
	"io"
	"os"
	"strings"
	"testing"
)

func TestPanicsBecomeErrors(t *testing.T) {
	err := Do(func() error { var list []int; _ = list[len(os.Args)]; return nil })
	var e *Error
	if !errors.As(err, &e) || !strings.Contains(string(e.Stack), "TestPanicsBecomeErrors") {
		t.Fatalf("got %v", err)
	}
	if again := Do(func() error { panic(err) }); again != err {
		t.Errorf("an error that was caught lost its stack: %v", again)
	}
	if err := Do(func() error { panic(io.ErrUnexpectedEOF) }); !errors.Is(err, io.ErrUnexpectedEOF) {
		t.Errorf("got %v", err)
	}
	if err := Do(func() error { return io.EOF }); err != io.EOF {
		t.Errorf("got %v", err)
	}
	if err := Do(func() error { return nil }); err != nil {
		t.Errorf("got %v", err)
	}
	if !Log("a test", err) || Log("a test", io.EOF) {
		t.Error("only a panic is logged as one")
	}
}
