// Queues posts made offline and sends each once.
(() => {
  "use strict";

  // A round and the day sheet work offline: actions show at once, are stored in localStorage, and
  // are sent in order when possible, from whatever page is open. Each post has an idempotency key,
  // so that repeats are harmless. Refused posts are set aside and reported, and an expired sign-in
  // pauses the queue: nothing is dropped silently.
  const store = (name) => {
    const at = "zephyrfield-" + name;
    return {
      list: () => JSON.parse(localStorage.getItem(at) || "[]"),
      keep: (list) => localStorage.setItem(at, JSON.stringify(list)),
    };
  };
  const waitingLine = store("queue");
  const refused = store("refused");
  const lately = store("sent");
  const newKey = () =>
    [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

  const showTick = (stop, core, at) => {
    const form = [...document.querySelectorAll(`#stop-${stop} [data-queue=tick]`)].find(
      (f) => f.elements.core.value === String(core),
    );
    if (!form) return;
    const button = form.querySelector("button");
    if (button.disabled) return;
    button.disabled = true;
    button.classList.add("taken");
    button.setAttribute("aria-pressed", "true");
    const place = [...document.querySelectorAll(`#stop-${stop} .core-place`)][core - 1];
    if (place) place.classList.add("taken");
    const cores = (of) => [...document.querySelectorAll(of)].reduce((sum, b) => sum + Number(b.dataset.cores), 0);
    const all = cores(`#stop-${stop} .core-button`);
    const taken = cores(`#stop-${stop} .core-button.taken`);
    const time = new Date(Number(at)).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
    document.getElementById(`so-far-${stop}`).textContent = `${taken} of ${all} taken, last at ${time}`;
    const left = cores("[data-queue=tick] button:not([disabled])");
    document.getElementById("left").textContent =
      left === 0 ? "Every core is taken" : `${left} ${left === 1 ? "core" : "cores"} to take`;
  };

  let held = ""; // why the line waits, when it is not for a signal
  const showQueue = () => {
    const says = document.getElementById("signal");
    if (!says) return;
    const n = waitingLine.list().length;
    const kept = `${n} ${n === 1 ? "entry is" : "entries are"} kept here`;
    const no = refused.list();
    const parts = [];
    if (n > 0) parts.push(held ? `${held} ${kept} until then.` : `No signal: ${kept} and sent when there is one.`);
    if (no.length > 0) parts.push(`Not taken in: ${no.map((r) => r.says).join(" ")}`);
    says.hidden = parts.length === 0;
    says.textContent = parts.join(" ");
    if (n > 0 && held) {
      const link = document.createElement("a");
      link.href = "/sign-in";
      link.textContent = "Sign in";
      says.append(" ", link);
    }
    if (no.length > 0) {
      const seen = document.createElement("button");
      seen.type = "button";
      seen.className = "quiet";
      seen.textContent = "Seen";
      seen.addEventListener("click", () => {
        refused.keep([]);
        showQueue();
      });
      says.append(" ", seen);
    }
  };

  // A page rendered just before these arrived does not include them yet.
  const justSent = () => lately.list().filter((x) => Date.now() - x.sent < 20e3);
  const leaves = (e) => waitingLine.keep(waitingLine.list().filter((x) => x.fields.key !== e.fields.key));
  let sending = false;
  const send = async () => {
    if (sending) return;
    sending = true;
    let went = false;
    let to = "";
    try {
      for (let list = waitingLine.list(); list.length > 0; list = waitingLine.list()) {
        const first = list[0];
        const answer = await fetch(first.to, {
          method: "POST",
          headers: { "X-Queued": "1", "Content-Type": "application/x-www-form-urlencoded" },
          body: new URLSearchParams(first.fields),
        });
        held = answer.status === 401 || answer.status === 403 ? "Sign in again." : "";
        if (answer.ok) {
          went = true;
          lately.keep([...justSent(), { ...first, sent: Date.now() }]);
        } else if (held || answer.status >= 500 || answer.status === 429) {
          break;
        } else {
          const page = new DOMParser().parseFromString(await answer.text(), "text/html");
          if (!backAtItsField(first, page)) {
            const why =
              [...page.querySelectorAll("main .fault")].find((p) => p.textContent.trim() !== "") ||
              page.querySelector("main h1");
            const says = why ? why.textContent.trim() : "The garden has no such place any more.";
            refused.keep([...refused.list(), { ...first, says: first.of ? `${first.of}: ${says}` : says }]);
          }
        }
        leaves(first);
        if (answer.ok && first.fields.at) to = answer.headers.get("X-Done") || to;
      }
    } catch {
      // no signal: later
    } finally {
      sending = false;
      showQueue();
    }
    if (went && waitingLine.list().length === 0) {
      if (document.querySelector("[data-sheet]") && to.startsWith(location.pathname)) location.assign(to);
      else await renewSamples();
    }
  };

  // A refused tick returns to its field with its input.
  const backAtItsField = (entry, page) => {
    const was = document.querySelector("main [data-sheet]");
    const is = page.querySelector("main [data-sheet]");
    if (!was || !is || waitingLine.list().length > 1) return false;
    was.replaceWith(document.adoptNode(is));
    const field = is.querySelector("[aria-invalid=true]");
    if (field) field.focus();
    return true;
  };

  // An action on a task of the day sheet is shown on its card until it is sent, and can be undone
  // until then.
  const showCard = ({ to, fields }) => {
    const form = [...document.querySelectorAll("[data-queue=sheet]")].find((f) => new URL(f.action).pathname === to);
    const card = form && form.closest(".job");
    if (!card || card.querySelector(".kept")) return;
    const doing = card.querySelector(".field");
    doing.hidden = true;
    const says = document.createElement("p");
    says.className = "kept";
    says.setAttribute("role", "status");
    const amount = fields.amount ? `${fields.amount} ${fields.measure || ""}` : card.dataset.planned;
    says.textContent = `${to.endsWith("/skip") ? "Skipped" : `${amount.trim()} put on`}; kept here until there is a signal. `;
    const back = document.createElement("button");
    back.type = "button";
    back.className = "quiet";
    back.textContent = "Take back";
    back.addEventListener("click", () => {
      leaves({ fields });
      says.remove();
      doing.hidden = false;
      showQueue();
    });
    says.append(back);
    doing.before(says);
  };

  // A tick belongs to the day of the sheet, and to later days while the sheet stays open.
  const openedOn = new Date().setHours(0, 0, 0, 0);
  const sheetDay = (sheet) => {
    const later = Math.round((new Date().setHours(0, 0, 0, 0) - openedOn) / 864e5);
    const day = new Date(`${sheet.dataset.sheet}T12:00:00Z`);
    day.setUTCDate(day.getUTCDate() + later);
    return day.toISOString().slice(0, 10);
  };

  // Samples depend on cores: they are refreshed once those are sent.
  const renewSamples = async () => {
    const was = document.querySelector("[aria-labelledby=samples]");
    if (!was || was.contains(document.activeElement)) return;
    try {
      const answer = await fetch(location.href);
      const is =
        answer.ok &&
        new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[aria-labelledby=samples]");
      if (is) was.replaceWith(document.adoptNode(is));
    } catch {
      // no signal: they stay as they are
    }
  };

  // After the last core of a bed, the next bed with cores left is shown.
  const unfinished = (stop) => stop.querySelector("[data-queue=tick] button:not([disabled])");
  const onward = (stop) => {
    if (unfinished(stop)) return;
    const next = [...document.querySelectorAll(".stop")].find(unfinished) || document.getElementById("samples");
    const calm = matchMedia("(prefers-reduced-motion: reduce)").matches;
    next.scrollIntoView({ behavior: calm ? "auto" : "smooth", block: "start" });
  };

  document.addEventListener("submit", (e) => {
    const form = e.target.closest("[data-queue]");
    if (!form) return;
    e.preventDefault();
    const fields = Object.fromEntries(new FormData(form, e.submitter));
    if (form.dataset.queue === "note") {
      // Leaving the field sends what it says, and so does its button: once is enough.
      if (form.dataset.said === fields.note) return;
      form.dataset.said = fields.note;
      fields.key = newKey();
    }
    fields.at = String(Date.now());
    const entry = { to: new URL(form.action).pathname, fields };
    if (form.dataset.queue === "sheet") {
      fields.day = sheetDay(form.closest("[data-sheet]"));
      entry.of = form.closest(".job").querySelector("h2").textContent.trim();
      showCard(entry);
    }
    waitingLine.keep([...waitingLine.list(), entry]);
    if (form.dataset.queue === "tick") {
      showTick(fields.stop, Number(fields.core), fields.at);
      onward(form.closest(".stop"));
    }
    showQueue();
    send();
  });

  document.addEventListener("change", (e) => {
    const form = e.target.closest("[data-queue=note]");
    if (form) form.requestSubmit();
  });

  const showKept = () => {
    for (const { fields } of [...justSent(), ...waitingLine.list()])
      if (fields.core) showTick(fields.stop, Number(fields.core), fields.at);
    for (const entry of waitingLine.list()) showCard(entry);
    showQueue();
  };
  showKept();
  send();
  window.addEventListener("online", send);
  setInterval(() => {
    if (waitingLine.list().length > 0) send();
  }, 5000);
})();
