// Package vec holds the row kernels: the few loops in which a frame spends its time.
//
// Every kernel works on rows of float32. Rows may be of any length; a kernel may read and
// write up to 15 samples past the end, so each slice must have that much capacity (rows of
// package frame do). There is a plain Go form of each, and vector forms of 8 and 16 lanes
// that agree with each other bit for bit and with the plain one to rounding. Which of them
// runs is chosen once at start; VELOURS_VECTOR=plain, avx2 or avx512 overrides it.
package vec
