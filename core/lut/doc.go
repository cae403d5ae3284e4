// Package lut holds colour tables and transforms, and the open formats they travel in: .cube, the
// plain text of many programs; the Academy/ASC Common Lut Format (CLF, S-2014-006, version 3); and
// the ASC colour decision list (.cdl, .ccc, .cc, version 1.2).
//
// A transform is a List of nodes that a colour passes in turn. Colours are normalised: 1 is the top
// of the code range, whatever the bit depth a file was written for. Nothing is clipped unless a node
// says so. Readers take hostile input: they bound what they hold and answer with one clear line.
package lut
