/**
 * A Kite Bell form on any site: `<div data-kite-bell="KEY"></div>` and this script. No framework, no cookies. Keeps the
 * page, the first page of the visit, where people came from, and campaign and click ids.
 */
(() => {
  const script = document.currentScript;
  const home = new URL(script ? script.src : location.href).origin;
  const TRAIL = [
    "utm_source",
    "utm_medium",
    "utm_campaign",
    "utm_term",
    "utm_content",
    "gclid",
    "fbclid",
    "msclkid",
  ];
  const LANDING = "kb_landing";

  /** Where the visit began: remembered for this tab, since the form often stands some pages further. */
  function landing() {
    const here = { page: location.href, referrer: document.referrer };
    try {
      const kept = sessionStorage.getItem(LANDING);
      if (kept) return JSON.parse(kept);
      sessionStorage.setItem(LANDING, JSON.stringify(here));
    } catch {
      // Storage is switched off: the page itself must do.
    }
    return here;
  }

  function trail() {
    const first = landing();
    const out = { page: location.href, landing_page: first.page, referrer: first.referrer };
    for (const url of [first.page, location.href])
      for (const [name, value] of new URL(url).searchParams)
        if (TRAIL.includes(name) && value) out[name] = value;
    return out;
  }

  const node = (name, props, ...children) => {
    const made = Object.assign(document.createElement(name), props);
    made.append(...children.filter(Boolean));
    return made;
  };

  const dressed = new Set();
  /** Put rules in force once. As a sheet of the document, which a site's own policy on inline styles lets pass. */
  function dress(css) {
    if (dressed.has(css)) return;
    dressed.add(css);
    try {
      const sheet = new CSSStyleSheet();
      sheet.replaceSync(css);
      document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
    } catch {
      document.head.append(node("style", { textContent: css }));
    }
  }

  const STYLE = `
    .kb-form { display: grid; gap: 1rem; }
    .kb-form h2, .kb-form p { margin: 0; }
    .kb-form legend { padding: 0; }
    .kb-form label, .kb-form legend { display: block; font-weight: 600; }
    .kb-form fieldset { margin: 0; padding: 0; border: 0; }
    .kb-form .kb-choice, .kb-form .kb-consent { display: flex; gap: .5rem; align-items: center; min-height: 2.5rem; font-weight: 400; }
    .kb-form input:not([type=radio]):not([type=checkbox]), .kb-form textarea {
      box-sizing: border-box; width: 100%; min-height: 2.75rem; padding: .5rem; border: 1px solid #6b7280; border-radius: 3px; font: inherit; }
    .kb-form [aria-invalid=true] { border-color: #a8321a; }
    .kb-form .kb-help { color: #565d6b; font-size: .875em; }
    .kb-form .kb-error { color: #a8321a; font-size: .875em; }
    .kb-form button { justify-self: start; min-height: 2.75rem; padding: .5rem 1.25rem; border: 0; border-radius: 3px; background: #17636b; color: #fff; font: inherit; font-weight: 600; cursor: pointer; }
    .kb-form button:disabled { opacity: .6; }
    .kb-away { position: absolute; left: -9999px; width: 1px; height: 1px; overflow: hidden; }`;

  const ASK = `
    .kb-ask { position: fixed; right: 1rem; bottom: 1rem; left: 1rem; z-index: 2147483000; display: flex; flex-wrap: wrap; gap: .5rem 1rem; align-items: center; max-width: 34rem; margin: 0 auto; padding: .75rem 1rem; border: 1px solid #6b7280; border-radius: 3px; background: #fffdf8; color: #1e2430; }
    .kb-ask p { flex: 1 1 14rem; margin: 0; }
    .kb-ask button { min-height: 2.75rem; padding: .25rem 1.25rem; border: 1px solid #17636b; border-radius: 3px; background: #fff; color: #17636b; font: inherit; font-weight: 600; cursor: pointer; }`;

  let count = 0;

  function question(field) {
    const id = `kb-${++count}`;
    const mark = field.required ? "" : " (if you like)";
    const help = field.help
      ? node("div", { className: "kb-help", id: `${id}-help`, textContent: field.help })
      : null;
    const error = node("div", { className: "kb-error", id: `${id}-error` });
    const box = node("div", {});
    box.dataset.field = field.name;
    if (field.type === "choice") {
      const set = node("fieldset", {}, node("legend", { textContent: field.label + mark }));
      set.setAttribute("aria-describedby", `${id}-error`);
      for (const choice of field.choices) {
        const input = node("input", { type: "radio", name: field.name, value: choice.value });
        set.append(node("label", { className: "kb-choice" }, input, choice.label));
      }
      box.append(set);
    } else if (field.type === "consent") {
      const input = node("input", { type: "checkbox", name: field.name, value: "yes", id });
      input.setAttribute("aria-describedby", `${id}-error`);
      box.append(node("label", { className: "kb-consent" }, input, field.label));
    } else {
      const area = field.type === "area";
      const input = node(area ? "textarea" : "input", { id, name: field.name });
      if (area) input.rows = 4;
      else input.type = field.type;
      input.autocomplete =
        { email: "email", tel: "tel" }[field.type] ?? (field.name === "name" ? "name" : "on");
      input.setAttribute("aria-describedby", `${id}-error${help ? ` ${id}-help` : ""}`);
      box.append(node("label", { htmlFor: id, textContent: field.label + mark }), input);
    }
    if (help) box.append(help);
    box.append(error);
    return box;
  }

  /** The first thing wrong is said beside its question, and gets the focus. */
  function check(form, fields) {
    let first = null;
    const data = new FormData(form);
    for (const field of fields) {
      const box = form.querySelector(`[data-field="${field.name}"]`);
      const value = String(data.get(field.name) ?? "").trim();
      let said = "";
      if (field.required && !value)
        said = field.type === "consent" ? "Please agree first." : "Please answer this.";
      else if (value && field.type === "email" && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value))
        said = "This is not a mail address.";
      else if (value && field.type === "tel" && value.replace(/\D/g, "").length < 7)
        said = "This is not a phone number.";
      box.querySelector(".kb-error").textContent = said;
      const input = box.querySelector("input, textarea");
      input.setAttribute("aria-invalid", String(!!said));
      if (said && !first) first = input;
    }
    first?.focus();
    return !first;
  }

  function fill(place, form) {
    const away = node("div", { className: "kb-away" });
    away.setAttribute("aria-hidden", "true");
    away.append(
      node(
        "label",
        {},
        "Leave this empty",
        node("input", { name: "kb_website", tabIndex: -1, autocomplete: "off" }),
      ),
    );
    const problem = node("p", { className: "kb-error" });
    problem.setAttribute("role", "alert");
    const button = node("button", { type: "submit", textContent: form.button });
    const made = node(
      "form",
      { className: "kb-form", noValidate: true },
      form.title && node("h2", { textContent: form.title }),
      form.intro && node("p", { textContent: form.intro }),
      ...form.fields.map(question),
      away,
      problem,
      button,
    );
    const id = crypto.randomUUID ? crypto.randomUUID() : `${Date.now()}-${Math.random()}`;
    made.addEventListener("submit", async (event) => {
      event.preventDefault();
      if (!check(made, form.fields)) return;
      button.disabled = true;
      problem.textContent = "";
      // The same id however often it is pressed: one press, two presses, one inquiry.
      const sent = {
        ...trail(),
        ...Object.fromEntries(new FormData(made)),
        submission_id: id,
        kb_token: form.token,
      };
      try {
        const answer = await fetch(`${home}/api/v1/intake/${form.key}`, {
          method: "POST",
          headers: { "content-type": "application/json" },
          body: JSON.stringify(sent),
        });
        if (!answer.ok) throw new Error((await answer.json()).detail);
        const thanks = node("p", { textContent: form.thanks, tabIndex: -1 });
        thanks.setAttribute("role", "status");
        made.replaceWith(thanks);
        thanks.focus();
      } catch (error) {
        problem.textContent = `It could not be sent. What you wrote is still here: try again in a moment. ${error.message ?? ""}`;
        button.disabled = false;
      }
    });
    dress(STYLE);
    place.replaceChildren(made);
  }

  async function start(place) {
    try {
      const answer = await fetch(`${home}/api/v1/forms/${encodeURIComponent(place.dataset.kiteBell)}`);
      if (!answer.ok) throw new Error();
      fill(place, await answer.json());
    } catch {
      place.textContent = "The form can't be shown just now. Please call or write to us instead.";
    }
  }

  const VISITOR = "kb_visitor";

  /** Take the visitor's name out of the address, so that it is neither passed on nor kept by accident. */
  function visitor() {
    const here = new URL(location.href);
    const name = here.searchParams.get("kb");
    if (!name) return null;
    here.searchParams.delete("kb");
    history.replaceState(history.state, "", here);
    return name;
  }

  /** What was said about being known here: a name, "no", or nothing yet. */
  function said(value) {
    try {
      if (value !== undefined) localStorage.setItem(VISITOR, value);
      return localStorage.getItem(VISITOR);
    } catch {
      // Storage is switched off: then nobody is known.
      return "no";
    }
  }

  /** Tell of this page; only ever called for somebody who has said yes. */
  function tell(name) {
    void fetch(`${home}/api/v1/site/views`, {
      method: "POST",
      mode: "no-cors",
      keepalive: true,
      body: JSON.stringify({ visitor: name, page: location.href }),
    }).catch(() => {});
  }

  /** Ask once whether the visit may be remembered. Nothing is told or kept before a yes. */
  function ask(name) {
    const choose = (answer) => () => {
      bar.remove();
      said(answer);
      if (answer !== "no") tell(answer);
    };
    const bar = node(
      "div",
      { className: "kb-ask" },
      node("p", {
        textContent: "May we remember that you looked at this, so that we can answer you better?",
      }),
      node("button", { type: "button", textContent: "Yes", onclick: choose(name) }),
      node("button", { type: "button", textContent: "No", onclick: choose("no") }),
    );
    bar.setAttribute("role", "region");
    bar.setAttribute("aria-label", "May we remember your visit?");
    dress(ASK);
    document.body.append(bar);
  }

  function recognise(name) {
    const known = said();
    if (known === "no") return;
    if (known) tell(known);
    else if (name) ask(name);
  }

  const came = visitor();
  landing();
  const all = () => {
    document.querySelectorAll("[data-kite-bell]").forEach(start);
    recognise(came);
  };
  if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", all);
  else all();
})();
