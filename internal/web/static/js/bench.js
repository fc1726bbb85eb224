// Streams a connected probe's values until they settle; a second press stops it.
let streaming = null;
const stream = async (button) => {
  const where = button.dataset.shown;
  const says = document.getElementById("probe-fault");
  const bed = document.getElementById("bed");
  const own = (streaming = {});
  const shown = [];
  button.setAttribute("aria-pressed", "true");
  says.textContent = "";
  try {
    while (streaming === own && shown.length < 30) {
      const query = new URLSearchParams({ n: shown.length, bed: bed ? bed.value : "", shown: shown.join(" ") });
      if (where !== "slurry") query.set("bottle", where);
      const answer = await (await fetch("/bench/probe?" + query)).json();
      if (streaming !== own) break;
      says.textContent = answer.error || "";
      if (answer.error) break;
      shown.push(answer.ph);
      const at = document.getElementById(where === "slurry" ? "tries" : "cal_" + where);
      at.value = where === "slurry" ? shown.join(" ") : String(answer.settled ? answer.at : answer.ph);
      if (where !== "slurry") document.getElementById("cal_date").value = document.getElementById("page").dataset.today;
      else if (answer.t !== undefined) document.getElementById("temp").value = String(answer.t);
      at.dispatchEvent(new Event("change", { bubbles: true }));
      if (answer.settled) break;
      await new Promise((done) => {
        setTimeout(done, 400);
      });
    }
  } catch {
    says.textContent = "The probe cannot be reached.";
  }
  button.setAttribute("aria-pressed", "false");
  if (streaming === own) streaming = null;
};
document.addEventListener("click", (e) => {
  const button = e.target.closest("[data-shown]");
  if (!button) return;
  const going = button.getAttribute("aria-pressed") === "true";
  streaming = null;
  if (!going) stream(button);
});

// The timer of a colour kit.
let waits = 0;
document.addEventListener("click", (e) => {
  const start = e.target.closest("[data-wait]");
  if (!start) return;
  clearInterval(waits);
  const until = Date.now() + start.dataset.wait * 1000;
  const tell = () => {
    const left = Math.max(0, Math.round((until - Date.now()) / 1000));
    start.parentElement.querySelector(".wait").textContent =
      left === 0 ? "Read it now" : `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}`;
    if (left === 0) clearInterval(waits);
  };
  tell();
  waits = setInterval(tell, 500);
});
