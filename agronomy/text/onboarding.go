package text

// winters tell a climate by what its winter and summer are like.
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

// sowings tell how soon a crop goes in.
var sowings = map[string]string{"grows": "grows now", "soon": "within weeks", "later": "in spring"}

// Sowing says how soon a crop goes in.
func Sowing(when string) string { return sowings[when] }
