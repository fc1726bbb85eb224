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
	{"sweet", "Too sweet", "Above the pH that the crop likes best; it is mostly left alone, and sulfur lowers it where that can work.",
		[]string{"too sweet"}},
	{"in-band", "In band", "Within the stretch of pH that the crop likes; nothing is put on.", []string{"in band"}},
	{"go", "Go", "One putting on of a material; a dose that is split is two goes or more, weeks apart.", []string{"two goes",
		"goes planned", "the goes", "one go", "a go", "first go", "second go", "next go"}},
	{"hard-to-shift", "Hard to shift", "Soil that takes much lime before its pH moves: clay and organic matter hold it, sand does not.",
		[]string{"hard to shift", "easy to shift"}},
	{"working", "The working", "Every step of a sum with its figures and where they are from, so that you can follow it.",
		[]string{"the working"}},
	{"band", "Band", "The stretch of pH that a crop likes, drawn as a bracket on the ruler.", []string{"band"}},
	{"doubt", "Doubt", "How far off a figure may be: two times in three it lies within it.", []string{"doubt"}},
}

// Field are the technical terms of labs and books.
var Field = []Term{
	{"buffering", "Buffering", "How far a soil holds its pH against lime or acid: what is well buffered is hard to shift.", nil},
	{"cec", "Cation exchange capacity",
		"How much calcium, magnesium and potassium a soil can hold; more of it means more lime for the same step.", nil},
	{"buffer-ph", "Buffer pH", "What a lab reads after stirring the soil with a buffer: the lower it is, the more lime the soil takes.", nil},
	{"lime-requirement", "Lime requirement", "The lime that brings a soil to a wanted pH, as a lab prints it.", nil},
	{"cce", "Calcium carbonate equivalent",
		"How much acid a material takes up beside the same weight of pure lime; on a bag it stands as neutralising value or CCE.", nil},
	{"fineness", "Fineness", "How finely a lime is ground: what is coarse reacts over years, what is fine within one.", nil},
	{"basis", "Water, calcium chloride, potassium chloride",
		"What the soil was stirred in; in a salt it reads lower, so a report is read as the water pH that it stands for.", nil},
	{"extractant", "Extractant", "What a lab draws potassium out with; its figures compare only with those of the same one.", nil},
	{"free-lime", "Free lime", "Grains of lime in the soil itself: they fizz under vinegar and eat up any acid that is put on.", nil},
	{"texture", "Texture", "How much sand, silt and clay a soil is made of.", nil},
}
