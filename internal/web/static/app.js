// Enhancements of plain pages: each module handles its own part. Figures and days from the server
// are in data attributes.
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
