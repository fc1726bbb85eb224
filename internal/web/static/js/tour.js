// Labels the Enter key of a phone.
document.addEventListener("focusin", (e) => {
  if (e.target.matches?.(".tour-beds input")) e.target.enterKeyHint = "next";
});

// Enter moves to the next figure of a tour and submits on the last.
document.addEventListener("keydown", (e) => {
  if (e.key !== "Enter" || !e.target.matches || !e.target.matches(".tour-beds input")) return;
  const all = [...document.querySelectorAll(".tour-beds input")];
  const next = all[all.indexOf(e.target) + 1];
  if (!next) return;
  e.preventDefault();
  next.focus();
  next.select();
});
