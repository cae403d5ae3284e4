// Package editlist reads edit lists, which say what of which recording stands where in a programme: CMX 3600 (EDL) and OpenTimelineIO's JSON. It finds the
// files that they mean among those there are, and says what it could not read or find. It knows nothing of pictures.
package editlist
