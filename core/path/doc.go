// Package path is the light path: seven stations, the kinds of step that belong to them, looks,
// and the plan that a look compiles to.
//
// A kind is declared once (kind_*.go); its declaration feeds the desk, the help, validation, the
// command line and the reference. A look is data. A plan is a pure function of look, raster, frame
// and frame number: the same bits on any number of cores. Between Intake and Lens a picture is
// scene-linear ACEScg; at the Negative it is density; from Screen on it is display code values.
package path
