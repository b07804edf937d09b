(least) => {
  const said = [];
  const wide = document.documentElement.clientWidth;
  const name = (e) =>
    e.tagName.toLowerCase() +
    " “" +
    (e.getAttribute("aria-label") || e.innerText || e.name || e.type || "").trim().slice(0, 40) +
    "”";
  const seen = (e) =>
    e.checkVisibility({ visibilityProperty: true, opacityProperty: true }) && e.getBoundingClientRect().width > 1;
  const scrolls = (e) => {
    for (let p = e.parentElement; p; p = p.parentElement)
      if (/auto|scroll|hidden|clip/.test(getComputedStyle(p).overflowX)) return true;
    return false;
  };
  if (document.documentElement.scrollWidth > wide) {
    said.push("the page is " + document.documentElement.scrollWidth + " wide");
    for (const e of document.querySelectorAll("body *"))
      if (
        seen(e) &&
        !scrolls(e) &&
        e.getBoundingClientRect().right > wide + 1 &&
        ![...e.children].some((c) => c.getBoundingClientRect().right > wide + 1)
      )
        said.push("sticks out: " + name(e) + " to " + Math.round(e.getBoundingClientRect().right));
  }
  for (const e of document.querySelectorAll("[role=region].overflow-x-auto, [data-scrolls]"))
    if (wide < 500 && seen(e) && e.scrollWidth > e.clientWidth + 1 && !e.hasAttribute("data-sideways"))
      said.push("scrolls sideways: " + name(e) + " " + e.scrollWidth + " in " + e.clientWidth);
  const inText = (e) => e.tagName === "A" && getComputedStyle(e).display === "inline";
  const of = location.pathname.startsWith("/bay/") ? document.querySelector("main") : document;
  for (const e of of.querySelectorAll(
    "a[href], button, select, textarea, summary, input:not([type=hidden]), [role=checkbox], [role=radio], [role=tab]",
  )) {
    if (!seen(e) || e.disabled || inText(e) || e.classList.contains("sr-only") || e.closest("svg, [data-scale]"))
      continue;
    let box = e.getBoundingClientRect();
    const label = e.closest("label") ?? (e.id && document.querySelector("label[for='" + e.id + "']"));
    if (/^(checkbox|radio|file)$/.test(e.type) && label) box = label.getBoundingClientRect();
    if (box.height < least - 0.5 || box.width < least - 0.5)
      said.push("small: " + name(e) + " " + Math.round(box.width) + " by " + Math.round(box.height));
  }
  scrollTo(0, document.documentElement.scrollHeight);
  const bar = [...document.querySelectorAll("nav")].find(
    (n) =>
      /fixed|sticky/.test(getComputedStyle(n).position) && seen(n) && n.getBoundingClientRect().top > innerHeight / 2,
  );
  if (bar) {
    const top = bar.getBoundingClientRect().top;
    for (const e of document.querySelectorAll("main a[href], main button, main input, main select"))
      if (seen(e) && !scrolls(e) && e.getBoundingClientRect().bottom > top + 1) said.push("under the bar: " + name(e));
  }
  return JSON.stringify([...new Set(said)]);
};
