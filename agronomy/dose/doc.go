// Package dose works out what a bed needs and how to give it: the need, the
// options that could meet it, each option's applications with their days, and the
// whole working.
//
// [For] is the one entry. It reads no clock and draws no chance: the same
// request gives the same answer, to the byte.
//
// # The way of a dose
//
// A [Request] holds the ground, one reading or several, the crop or crops, a
// target if one was typed, what may be used, and what was applied before. For
//
//  1. refuses what cannot be, naming the field as docs/dose.md names it
//     ([InputError]);
//  2. joins the readings ([soil.Join]): surer methods count more, methods of
//     equal standing that disagree stop the dose;
//  3. computes the [Need] by the chosen lime method ([soil.Buffer]), of
//     one pH or layer by layer, less what is already on its way, plus the acid
//     that free lime would take: an amount of pure CaCO₃ equivalent in g/m²,
//     below 0 when pH is to fall;
//  4. asks the trigger whether to step in at all; a typed target overrides
//     it;
//  5. takes each material through the guards; what a stop forbids is listed as
//     a [Refusal] with what would lift it;
//  6. plans each of the rest under its ceilings (year's cap with history,
//     potassium, supply, ash approaches), in as few equal applications as the caps
//     allow, on the first days that the calendar leaves free;
//  7. adds the sensible mixes: ash with lime for the rest, lime with potassium
//     sulfate where potassium is short;
//  8. ranks the [Option] list: meets the need, fewest cautions, costs least,
//     acts soonest.
//
// An option covers the 365 days from the request's day and says what it leaves
// unmet. Each carries its working as ids and values; package text makes
// sentences of them.
//
// # Units
//
// Rates are g/m² of the material as it is spread, totals grams, concentrations
// mg/kg of dry soil, depths metres, pH on the water basis. Doubts are one
// standard deviation, but for [Spread], which is the median with the 5th and
// 95th per cent of reading, method and strength together.
//
// # Sources
//
// Each step of a working names its source by id: the texture table of the
// soil surveys of the 1950s, Aitken, Moody & McKinley 1990, the labs' buffer
// methods, and the handbook's tables of caps, crops and materials. They are
// written out in package text.
package dose
