package colour

// XY is a chromaticity in CIE 1931.
type XY struct{ X, Y float64 }

// XYZ is the colour of this chromaticity at Y = 1.
func (c XY) XYZ() [3]float64 { return [3]float64{c.X / c.Y, 1, (1 - c.X - c.Y) / c.Y} }

// Gamut is a set of primaries with their white.
type Gamut struct {
	ID      string
	R, G, B XY
	White   XY
}

var (
	d65  = XY{0.3127, 0.3290}   // ITU-R BT.709-6, table 1
	aces = XY{0.32168, 0.33767} // SMPTE ST 2065-1, section 4.1.1
)

// The gamuts, each from the document named.
var (
	AP0     = Gamut{"ap0", XY{0.73470, 0.26530}, XY{0, 1}, XY{0.00010, -0.07700}, aces}                      // SMPTE ST 2065-1
	AP1     = Gamut{"ap1", XY{0.713, 0.293}, XY{0.165, 0.830}, XY{0.128, 0.044}, aces}                       // ACES S-2014-004
	BT709   = Gamut{"bt709", XY{0.640, 0.330}, XY{0.300, 0.600}, XY{0.150, 0.060}, d65}                      // ITU-R BT.709-6
	BT2020  = Gamut{"bt2020", XY{0.708, 0.292}, XY{0.170, 0.797}, XY{0.131, 0.046}, d65}                     // ITU-R BT.2020-2
	P3D65   = Gamut{"p3-d65", XY{0.680, 0.320}, XY{0.265, 0.690}, XY{0.150, 0.060}, d65}                     // SMPTE EG 432-1
	logC3   = Gamut{"logc3", XY{0.6840, 0.3130}, XY{0.2210, 0.8480}, XY{0.0861, -0.1020}, d65}               // LogC3 colour space description, 2012
	logC4   = Gamut{"logc4", XY{0.7347, 0.2653}, XY{0.1424, 0.8576}, XY{0.0991, -0.0308}, d65}               // LogC4 specification, 2022, section 2
	sGamut3 = Gamut{"s-gamut3", XY{0.730, 0.280}, XY{0.140, 0.855}, XY{0.100, -0.050}, d65}                  // S-Gamut3 / S-Log3 technical summary, 2014
	sCine   = Gamut{"s-gamut3.cine", XY{0.766, 0.275}, XY{0.225, 0.800}, XY{0.089, -0.087}, d65}             // the same summary
	log3g10 = Gamut{"log3g10", XY{0.780308, 0.304253}, XY{0.121595, 1.493994}, XY{0.095612, -0.084589}, d65} // Log3G10 white paper, 2017
	dGamut  = Gamut{"d-gamut", XY{0.71, 0.31}, XY{0.21, 0.88}, XY{0.09, -0.08}, d65}                         // D-Log / D-Gamut white paper, 2017
)

// ToXYZ is the matrix from linear RGB of g to CIE XYZ, its white at Y = 1 (SMPTE RP 177).
func (g Gamut) ToXYZ() Matrix {
	r, gg, b, w := g.R.XYZ(), g.G.XYZ(), g.B.XYZ(), g.White.XYZ()
	m := Matrix{r[0], gg[0], b[0], r[1], gg[1], b[1], r[2], gg[2], b[2]}
	s := m.Inverse().Apply(w)
	for i := range 3 {
		for j := range 3 {
			m[3*i+j] *= s[j]
		}
	}
	return m
}

// bradford is the cone-like response of the Bradford transform (Lam 1985; ICC.1:2010, annex E).
var bradford = Matrix{0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296}

// Adapt is the Bradford adaptation of XYZ from one white to another, both at Y = 1.
func Adapt(from, to [3]float64) Matrix {
	a, b := bradford.Apply(from), bradford.Apply(to)
	d := Matrix{b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]}
	return bradford.Inverse().Mul(d).Mul(bradford)
}

// Convert is the matrix from linear RGB of one gamut to that of another, whites adapted.
func Convert(from, to Gamut) Matrix {
	if from.ID == to.ID {
		return Identity
	}
	m := from.ToXYZ()
	if from.White != to.White {
		m = Adapt(from.White.XYZ(), to.White.XYZ()).Mul(m)
	}
	return to.ToXYZ().Inverse().Mul(m)
}
