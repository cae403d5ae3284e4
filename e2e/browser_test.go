package e2e

import (
	"os"
	"os/exec"
	"regexp"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

// browser starts Debian's Chromium, headless, with nothing that would go looking for a network.
func browser(t *testing.T) *rod.Browser {
	t.Helper()
	bin, err := exec.LookPath("chromium")
	if err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("chromium is not installed")
		}
		t.Skip("chromium is not installed; make test installs it")
	}
	l := launcher.New().Bin(bin).Headless(true).NoSandbox(true).Leakless(false).
		Set("disable-gpu").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").Set("disable-component-update").Set("disable-sync").Set("hide-scrollbars")
	url, err := l.Launch()
	if err != nil {
		t.Fatalf("starting chromium: %v", err)
	}
	b := rod.New().ControlURL(url)
	if err := b.Connect(); err != nil {
		t.Fatalf("connecting to chromium: %v", err)
	}
	t.Cleanup(func() {
		b.Close()
		l.Kill()
		l.Cleanup()
	})
	return b
}

// page opens the application at 1280×800.
func page(t *testing.T, b *rod.Browser, url string) *rod.Page {
	t.Helper()
	p, err := b.Page(proto.TargetCreateTarget{URL: "about:blank"})
	if err != nil {
		t.Fatal(err)
	}
	p = p.Timeout(4 * time.Minute)
	if err := p.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 1280, Height: 800, DeviceScaleFactor: 1}); err != nil {
		t.Fatal(err)
	}
	if err := p.Navigate(url); err != nil {
		t.Fatal(err)
	}
	return p
}

// choose takes an option of a chooser.
func choose(t *testing.T, p *rod.Page, chooser, option string) {
	t.Helper()
	p.MustElement(chooser).MustClick()
	p.MustElementR("[role=option]", "^"+regexp.QuoteMeta(option)).MustClick()
	if err := p.Wait(rod.Eval("() => !document.querySelector('[role=listbox]')")); err != nil {
		t.Fatal(err)
	}
}

// undisturbed waits until no dialog is open: keys belong to a dialog for as long as it is there.
func undisturbed(t *testing.T, p *rod.Page) {
	t.Helper()
	until(t, "the dialog is gone", func() bool { return !p.MustHas("[role=dialog]") })
}
