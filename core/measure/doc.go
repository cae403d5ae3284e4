// Package measure reads looks as a laboratory reads film: a step wedge through it, a sensitometer's curves and figures,
// the response to neutral light and where a film runs out. Exposure is in stops from mid grey, density as a densitometer
// reads it (film.Filters), spectra in steps of 5 nm. It draws nothing.
package measure
