// Package dither tells where among whole codes a picture's samples are cut, so that their mean is kept: thresholds between 0 and 1 that are
// added to code values before they are cut to whole numbers. The thresholds are those of a mask of blue noise, 64×64, whose turns differ from
// cell to cell, so that nothing repeats. A sample's threshold depends on its place and plane alone: rows may be made in any order.
//
// Source: R. Ulichney, The void-and-cluster method for dither array generation, Proc. SPIE 1913 (1993).
package dither
