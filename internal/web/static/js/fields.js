// The fields of the form that the plan follows, and places on the plan.
export const field = (name) => document.querySelector(`#bed-form [name=${name}]`);
export const metres = (name) => parseFloat((field(name).value || "0").replace(",", ".")) || 0;
export const tenth = (m) => Math.round(m * 10) / 10;

// put writes new values and lets the plan follow.
export const put = (values) => {
  for (const [name, value] of Object.entries(values)) field(name).value = String(Math.round(value * 1000) / 1000);
  field("name").dispatchEvent(new Event("change", { bubbles: true }));
};

// spot is where an event lies on the plan, m from its corner.
export const spot = (svg, e) => {
  const box = svg.getBoundingClientRect();
  const zoom = svg.viewBox.baseVal.width / box.width;
  const d = svg.dataset;
  return [
    Math.max(0, tenth(Number(d.left) + ((e.clientX - box.left) * zoom - d.marginX) / d.scale)),
    Math.max(0, tenth(Number(d.top) + ((e.clientY - box.top) * zoom - d.marginY) / d.scale)),
  ];
};

// Corners of an outline or points of a line, as their field holds them: one a line.
const thousandth = (m) => Math.round(m * 1000) / 1000;
export const corners = () =>
  field("corners")
    .value.split("\n")
    .filter((l) => l.trim())
    .map((l) =>
      l
        .trim()
        .split(/[ ;\t]+/)
        .map((n) => parseFloat(n.replace(",", "."))),
    );
export const setCorners = (list) => {
  field("corners").value = list.map((p) => p.map(thousandth).join(" ")).join("\n");
};

// near is how near a neighbour's edge draws, m.
export const near = 0.15;
