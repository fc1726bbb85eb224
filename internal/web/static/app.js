// What the pages cannot do as plain requests: each module listens for its own part of
// them. Figures and days that the server knows stand in the page’s data attributes.
import "./js/keys.js";
import "./js/day.js";
import "./js/outline.js";
import "./js/grips.js";
import "./js/jar.js";
import "./js/placing.js";
import "./js/bench.js";
import "./js/forms.js";
import "./js/folds.js";
import "./js/swaps.js";
import "./js/stakes.js";
import "./js/zoom.js";
import "./js/choose.js";
import "./js/tell.js";
import "./js/newest.js";
import "./js/kept.js";
import "./js/photo.js";
import "./js/drafts.js";
import "./js/tour.js";
