package text

// winters describe a climate by its winter and summer.
var winters = map[string][2]string{
	"maritime":       {"Mild and wet", "some frost"},
	"continental":    {"Cold, hot summers", "long frost"},
	"prairie":        {"Cold and dry", "deep frost"},
	"warm-temperate": {"Warm", "short frosts"},
	"subtropical":    {"Hot", "no frost"},
}

// Winter reports a climate in two words, and its frost.
func Winter(climate string) (name, frost string) {
	w, ok := winters[climate]
	if !ok {
		return Capital(Name(climate)), ""
	}
	return w[0], w[1]
}

// sowings describe how soon a crop is sown.
var sowings = map[string]string{"grows": "now", "soon": "within weeks", "spring": "in spring", "autumn": "in autumn"}

// Sowing returns the sentence on how soon a crop goes in.
func Sowing(when string) string { return sowings[when] }
