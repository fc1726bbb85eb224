// A chart wider than its container scrolls to today.
const stand = () =>
  document.querySelectorAll(".chart").forEach((chart) => {
    const svg = chart.querySelector("svg");
    const today = svg && svg.querySelector(".today");
    if (!today || chart.scrollWidth <= chart.clientWidth + 1 || chart.dataset.opened) return;
    chart.dataset.opened = "";
    const share = today.getBBox().x / svg.viewBox.baseVal.width;
    chart.scrollLeft = share * svg.getBoundingClientRect().width - 0.6 * chart.clientWidth;
  });
document.addEventListener("htmx:afterSettle", stand);
document.addEventListener("toggle", stand, true);
stand();
