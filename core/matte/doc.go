// Package matte says where a correction acts: by tone, hue, a colour picked or skin, inside shapes, or as
// another picture has it. Parts join in turn, by union, intersection and subtraction; the whole can grow,
// shrink, soften and be drawn to the edges of the picture.
//
// Places are shares of the picture's width and height, sizes shares of its width, so that a matte is the same at
// every raster. Coverage is 0 to 1.
package matte
