package text

// Term is a term with its explanation in one sentence.
type Term struct {
	ID, Word, Says string
	// Forms are its forms in a sentence.
	Forms []string
}

// House are this program's own terms: the first of each on a page can be tapped.
var House = []Term{
	{"sour", "Sour", "Below the pH that the crop likes best; lime or ash sweetens it.", []string{"sour"}},
	{"sweet", "Too sweet", "Above the pH that the crop likes best; mostly it is left alone; sulfur lowers it where that can work.",
		[]string{"too sweet"}},
	{"in-range", "In range", "Within the pH that the crop likes; nothing is put on.", []string{"in range"}},
	{"application", "Application", "An amount put on in one visit; a dose in parts is two applications or more, weeks apart.",
		[]string{"applications planned", "two applications", "one application", "an application", "first application"}},
	{"hard-to-shift", "Hard to shift", "Soil that needs much lime before its pH moves: clay and organic matter hold it, sand does not.",
		[]string{"hard to shift", "easy to shift"}},
	{"working", "The working", "Every step of a sum, with its figures and their sources, so that you can follow it.",
		[]string{"the working"}},
	{"band", "Range", "The pH that a crop likes, from its lowest to its highest, drawn as a bracket on the ruler.", []string{"range"}},
	{"doubt", "Doubt", "How far off a figure may be: the true one most likely lies within it.", []string{"doubt"}},
}

// Field are the technical terms of labs and books.
var Field = []Term{
	{"buffering", "Buffering", "How far a soil holds its pH against lime or acid: what is well buffered is hard to shift.", nil},
	{"cec", "Cation exchange capacity",
		"How much calcium, magnesium and potassium a soil can hold; the more, the more lime for the same change.", nil},
	{"buffer-ph", "Buffer pH", "What a lab reads after stirring the soil with a buffer: the lower it is, the more lime the soil takes.", nil},
	{"lime-requirement", "Lime requirement", "The lime that brings a soil to a wanted pH, as a lab prints it.", nil},
	{"cce", "Calcium carbonate equivalent",
		"How much acid a material takes up compared with the same weight of pure lime; a bag calls it neutralising value or CCE.", nil},
	{"fineness", "Fineness", "How finely a lime is ground: coarse lime reacts over years, fine lime within one.", nil},
	{"basis", "Water, calcium chloride, potassium chloride",
		"What the soil was stirred in; in a salt solution it reads lower, so such a figure is converted to pH in water.", nil},
	{"extractant", "Extraction method", "The solution that a lab extracts potassium with; figures compare only within one method.", nil},
	{"free-lime", "Free lime", "Grains of lime in the soil itself: they fizz under vinegar and use up any acid that is put on.", nil},
	{"texture", "Texture", "How much sand, silt and clay a soil is made of.", nil},
}
