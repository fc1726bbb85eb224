// Package dose computes what a bed needs and how to supply it: the need, the options that meet it,
// each option's applications with their days, and the whole working.
//
// [For] is the one entry. It reads no clock and no random source: the same request gives the same
// answer, to the byte.
//
// # The steps of a dose
//
// A [Request] holds the ground, one reading or several, the crop or crops, a target if one was
// typed, the usable materials, and earlier applications. For
//
// 1. rejects invalid input, naming the field as docs/dose.md names it ([InputError]);
//
// 2. combines the readings ([soil.Join]): more accurate methods weigh more, and methods of equal
// rank that disagree stop the dose;
//
// 3. computes the [Need] by the chosen lime method ([soil.Buffer]), from one pH or layer by layer,
// less what is already reacting, plus the acid that free lime would consume: an amount of pure
// CaCO₃ equivalent in g/m², negative when pH is to fall;
//
// 4. asks the trigger whether to act at all; a typed target overrides it;
//
// 5. checks each material against the guards; one that a stop forbids is listed as a [Refusal] with
// what would lift it;
//
// 6. plans each of the rest under its limits (yearly cap with history, potassium, stock, ash
// method), in as few equal applications as the caps allow, on the first days that the calendar
// leaves free;
//
// 7. adds the sensible mixes: ash with lime for the rest, lime with potassium sulfate when
// potassium is short;
//
// 8. ranks the [Option] list: meets the need, fewest cautions, costs least, acts soonest.
//
// An option covers the 365 days from the request's day and states what it leaves shortfall. Each
// carries its working as ids and values, which package text turns into sentences.
//
// # Units
//
// Rates are g/m² of the material as applied, totals grams, concentrations mg/kg of dry soil, depths
// metres, pH on the water basis. Uncertainties are one standard deviation, except for [Spread],
// which is the median with the 5th and 95th percentile of reading, method and strength together.
//
// # Sources
//
// Each step of a working names its source by id: the texture table of the soil surveys of the
// 1950s, Aitken, Moody & McKinley 1990, the labs' buffer methods, and the handbook's tables of
// caps, crops and materials. Package text spells them out.
package dose
