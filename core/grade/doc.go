// Package grade holds the corrections that bring shots together: tone, colour, texture.
//
// All of them work on scene-linear ACEScg, 0.18 for mid grey, and count brightness in stops from it. Light
// that is read from a display is brought to the same terms first. What is not a number counts as black,
// infinities as the largest half float (SoundRow, at the intake); negative light keeps its sign and is treated like the deepest
// tones. Hue and chroma are those of Oklab (Ottosson 2020), whose hue and whose chroma over lightness do
// not change with exposure; the tone scales, the zones and the hue families are ours.
package grade
