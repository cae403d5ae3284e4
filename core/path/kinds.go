package path

func init() {
	declare(encodingKind)
	declare(exposureKind, whiteKind)
	declare(bloomKind)
	declare(stockKind, gaugeKind, halationKind, grainKind)
	declare(mediumKind, lightsKind)
	declare(displayKind, toneKind)
	declare(overallKind)
}
