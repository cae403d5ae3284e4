// Package e2e holds journeys through the real interface, driven in headless Chromium through Rod.
package e2e
