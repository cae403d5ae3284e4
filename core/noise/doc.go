// Package noise measures the noise of pictures, be it grain or a sensor's: how it deviates over tones, channel by channel, how channels and
// neighbours go together, and how it goes on from frame to frame. And it takes noise out, by what was measured.
//
// Two frames of one scene differ by noise alone once what moved is laid over itself. Motion is found by phase correlation of tiles; a few
// displacements serve all of a frame, block by block. Frames are shifted by phase ramps, which pass every frequency, so that the noise keeps its variance
// and its spectrum. Blocks are sorted into zones of luminance, and the flattest of each are believed; what still moved gives a block more
// than chance does, and is left out. Samples are code values, 1 for the top of the range.
//
// To be taken out, noise is brought to one deviation at every tone (steady.go); frames are laid over each other where they show the same
// (align.go, average.go), and what is left goes through cosine transforms at three sizes (shrink.go): the method of scatter-and-grain, part D3, with
// transforms in the place of non-local means.
package noise
