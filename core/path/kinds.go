package path

func init() {
	declare(encodingKind, compressKind, reframeKind)
	declare(exposureKind, whiteKind)
	declare(bloomKind)
	declare(stockKind, gaugeKind, halationKind, grainKind)
	declare(mediumKind, tableKind, lightsKind)
	declare(displayKind, toneKind)
	declare(overallKind)
}
