// Every page is valid HTML.
import { HtmlValidate } from "html-validate";
import { expect, test } from "./help.js";

const validator = new HtmlValidate({ extends: ["html-validate:standard"] });

async function wrongs(text) {
  const report = await validator.validateString(text);
  return report.results.flatMap((r) => r.messages).map((m) => `${m.ruleId} ${m.line}:${m.column} ${m.message}`);
}

test("the check finds what is wrong", async () => {
  expect(await wrongs("<p><div>A</p><img><b id='x'></b><b id='x'></b>")).not.toEqual([]);
});

// What a page leads to is checked too, each kind of address once or a few times.
test("every page that the demo leads to is sound", async ({ request }) => {
  const kinds = {};
  const seen = new Set();
  const todo = [
    "/",
    "/walk?asked=1&bed=1&bed=2",
    "/marks?corners=1e308+1%0A2+2",
    "/beds/new?w=9999&h=1",
    "/beds/3/dose?target=99",
    "/nowhere",
    "/sign-in",
    "/keep?before=2",
    "/bench?bed=2&method=lab",
  ];
  const found = {};
  while (todo.length > 0) {
    const path = todo.shift();
    const kind = path.replace(/\d+/g, "1").replace(/\?.*/, "");
    kinds[kind] = (kinds[kind] || 0) + 1;
    if (seen.has(path) || kinds[kind] > 6) continue;
    seen.add(path);
    const answer = await request.get(path, { maxRedirects: 3 });
    expect(answer.status(), path).toBeLessThan(500);
    if (!(answer.headers()["content-type"] || "").includes("text/html")) continue;
    const text = await answer.text();
    const bad = await wrongs(text);
    if (bad.length > 0) found[path] = bad;
    for (const [, to] of text.matchAll(/href="(\/[^"#]*)/g)) {
      const next = to.replaceAll("&amp;", "&");
      if (!/^\/(static|export|favicon)/.test(next) && !seen.has(next)) todo.push(next);
    }
  }
  expect(found).toEqual({});
  expect(seen.size).toBeGreaterThan(40);
});
