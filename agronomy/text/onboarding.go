package text

// winters describe a climate by its winter and summer.
var winters = map[string]string{
	"maritime": "Mild and wet", "continental": "Cold, hot summers", "prairie": "Cold and dry", "warm-temperate": "Warm",
	"subtropical": "Hot",
}

// Winter returns a climate in two words.
func Winter(climate string) string {
	if w, ok := winters[climate]; ok {
		return w
	}
	return Capital(Name(climate))
}

// sowings describe how soon a crop is sown.
var sowings = map[string]string{"grows": "now", "soon": "within weeks", "spring": "in spring", "autumn": "in autumn"}

// Sowing returns the sentence on how soon a crop goes in.
func Sowing(when string) string { return sowings[when] }
