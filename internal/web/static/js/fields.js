// Fields of the form that the plan previews, and positions on the plan.
export const field = (name) => document.querySelector(`#bed-form [name=${name}]`);
export const metres = (name) => parseFloat((field(name).value || "0").replace(",", ".")) || 0;
export const tenth = (m) => Math.round(m * 10) / 10;

// put sets values and refreshes the plan.
export const put = (values) => {
  for (const [name, value] of Object.entries(values)) field(name).value = String(Math.round(value * 1000) / 1000);
  field("name").dispatchEvent(new Event("change", { bubbles: true }));
};

// spot is an event's position on the plan, m from its corner.
export const spot = (svg, e) => {
  const box = svg.getBoundingClientRect();
  const zoom = svg.viewBox.baseVal.width / box.width;
  const d = svg.dataset;
  return [
    Math.max(0, tenth(Number(d.left) + ((e.clientX - box.left) * zoom - d.marginX) / d.scale)),
    Math.max(0, tenth(Number(d.top) + ((e.clientY - box.top) * zoom - d.marginY) / d.scale)),
  ];
};

// Corners of an outline or points of a line in their field, one per line.
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

// near is the snapping distance of a neighbour's edge, m.
export const near = 0.15;
