// Shows the fields that belong to the chosen option.
export const follow = () => {
  const shape = document.querySelector("[data-shape]");
  if (shape)
    document.querySelectorAll("[data-for]").forEach((el) => {
      el.hidden = !el.dataset.for.split(" ").includes(shape.value);
    });
  const way = document.querySelector("[data-texture]");
  if (way)
    document.querySelectorAll("[data-by]").forEach((el) => {
      el.hidden = !el.dataset.by.split(" ").includes(way.value || "told");
    });
  document.querySelectorAll("[data-print], [data-keys], [data-probe-box], [data-wait]").forEach((el) => {
    el.hidden = false;
  });
};
document.addEventListener("change", follow);
document.addEventListener("htmx:afterSettle", follow);
follow();

document.addEventListener("click", (e) => {
  if (e.target.closest("[data-print]")) window.print();
  if (e.target.closest("[data-keys]")) document.getElementById("keys").showModal();
});

// Choosing another bed opens its dose at once; likewise other navigating lists.
document.addEventListener("change", (e) => {
  if (e.target.matches("#pick-bed, [data-go]")) e.target.form.requestSubmit();
});

// The first faulty field is focused.
const wrong = document.querySelector("[aria-invalid=true]");
if (wrong) wrong.focus();
