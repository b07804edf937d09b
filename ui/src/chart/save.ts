/** The chart as a drawing that stands by itself: the page's colours written into it, its fonts named with what every machine has. */
function alone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const [, , width = "800", height = "400"] = (svg.getAttribute("viewBox") ?? "").split(" ");
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", width);
  copy.setAttribute("height", height);
  copy.setAttribute("font-family", "Atkinson Hyperlegible Next, Helvetica, Arial, sans-serif");
  copy.removeAttribute("class");
  copy.querySelectorAll("[class]").forEach((e) => e.removeAttribute("class"));
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", "var(--paper)");
  copy.insertBefore(ground, copy.firstChild);
  const look = getComputedStyle(document.documentElement);
  return new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[a-z0-9-]+)\)/g, (_, name: string) => look.getPropertyValue(name).trim());
}

function save(blob: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

export function saveSvg(svg: SVGSVGElement, name: string) {
  save(new Blob([alone(svg)], { type: "image/svg+xml" }), `${name}.svg`);
}

/** Twice as fine as on the page. */
export async function savePng(svg: SVGSVGElement, name: string) {
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(alone(svg))}`;
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = picture.width * 2;
  canvas.height = picture.height * 2;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  canvas.toBlob((blob) => blob && save(blob, `${name}.png`), "image/png");
}
