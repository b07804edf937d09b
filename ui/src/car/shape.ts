import type { Schemas } from "../api/client";

type Profile = Schemas["Profile"];
export type Zone = Schemas["Zone"];

/** One zone of the unfolded car: its outline, where its mark goes, and the side it belongs to. All in centimetres. */
export interface Shape {
  zone: Zone;
  path: string;
  at: [number, number];
}

export interface Drawing {
  shapes: Shape[];
  /** Door seams, lamps, spokes: drawn over the zones. */
  lines: string[];
  /** Roof rails seen from the side: drawn under them. */
  rails: string[];
  width: number;
  height: number;
}

const r = (n: number) => Math.round(n * 10) / 10;
const p = (x: number, y: number) => `${r(x)} ${r(y)}`;

/** A piece of the top: between two bowed edges, half-widths a and b. */
function strip(xa: number, a: number, bowA: number, xb: number, b: number, bowB: number, mid: number): string {
  return `M${p(xa, mid - a)} C${p(xa + (xb - xa) * 0.3, mid - a - 1)} ${p(xa + (xb - xa) * 0.7, mid - b - 1)} ${p(xb, mid - b)} Q${p(xb + bowB, mid)} ${p(xb, mid + b)} C${p(xa + (xb - xa) * 0.7, mid + b + 1)} ${p(xa + (xb - xa) * 0.3, mid + a + 1)} ${p(xa, mid + a)} Q${p(xa + bowA, mid)} ${p(xa, mid - a)} Z`;
}

/** The nose or tail folded flat: an end plate with rounded outer corners. */
function plate(inner: number, outer: number, half: number, bow: number, mid: number): string {
  const k = (outer - inner) * 0.75;
  return `M${p(inner, mid - half * 0.93)} Q${p(inner + bow, mid)} ${p(inner, mid + half * 0.93)} L${p(inner + k * 0.4, mid + half)} C${p(inner + k, mid + half)} ${p(outer, mid + half * 0.95)} ${p(outer, mid + half * 0.7)} Q${p(outer + bow * 0.6, mid)} ${p(outer, mid - half * 0.7)} C${p(outer, mid - half * 0.95)} ${p(inner + k, mid - half)} ${p(inner + k * 0.4, mid - half)} Z`;
}

const disc = (x: number, y: number, radius: number) =>
  `M${p(x - radius, y)} a${r(radius)} ${r(radius)} 0 1 0 ${r(2 * radius)} 0 a${r(radius)} ${r(radius)} 0 1 0 ${r(-2 * radius)} 0 Z`;

const ring = (x: number, y: number, outer: number, inner: number) => `${disc(x, y, outer)} ${disc(x, y, inner)}`;

/** The upper half of a ring: the lip of a wheel arch. The lip stands flip-wise up or down. */
function lip(x: number, y: number, outer: number, inner: number, up: 1 | -1): string {
  const sweep = up === 1 ? 1 : 0;
  return `M${p(x - outer, y)} A${r(outer)} ${r(outer)} 0 0 ${sweep} ${p(x + outer, y)} L${p(x + inner, y)} A${r(inner)} ${r(inner)} 0 0 ${1 - sweep} ${p(x - inner, y)} Z`;
}

interface SideZones {
  glass: Zone;
  mirror: Zone;
  upper: Zone;
  lower: Zone;
  front: [Zone, Zone, Zone];
  rear: [Zone, Zone, Zone];
}

const leftZones: SideZones = {
  glass: "glass-left",
  mirror: "mirror-left",
  upper: "upper-left",
  lower: "lower-left",
  front: ["arch-fl", "tyre-fl", "wheel-fl"],
  rear: ["arch-rl", "tyre-rl", "wheel-rl"],
};
const rightZones: SideZones = {
  glass: "glass-right",
  mirror: "mirror-right",
  upper: "upper-right",
  lower: "lower-right",
  front: ["arch-fr", "tyre-fr", "wheel-fr"],
  rear: ["arch-rr", "tyre-rr", "wheel-rr"],
};

interface Side {
  shapes: Shape[];
  lines: string[];
  rails: string[];
}

/** One side of the car, nose to the left, wheels away from the roof. `roofY` is the roof's edge, `down` the way to the ground. */
function side(c: Profile, zones: SideZones, x0: number, roofY: number, down: 1 | -1, body: Schemas["Body"]): Side {
  const x = (m: number) => x0 + m * 100;
  const y = (z: number) => roofY + down * (c.height - z) * 100;
  const up = (down === 1 ? 1 : -1) as 1 | -1;
  const tail = c.length - 0.04;
  const arch = c.wheelRadius * 1.26;
  const axleY = y(c.wheelRadius);
  const curve = (...n: number[]) =>
    n.reduce<string[]>((out, _, i) => (i % 2 ? out : [...out, p(x(n[i] ?? 0), y(n[i + 1] ?? 0))]), []).join(" ");

  const belt = (c.cowlHeight + c.deckHeight) / 2;
  const glassEnd = c.cabEnd;
  const top = c.height - 0.1;
  const glassTop = Math.min(c.roofEnd - 0.02, glassEnd);
  const closed = glassEnd < c.roofEnd - 0.6 || body === "pickup"; // a panel, not glass, behind the cab
  const rearFoot = closed ? glassEnd : c.deckStart - 0.16;
  const glass =
    `M${curve(c.screenBase + 0.26, c.cowlHeight + 0.04)} C${curve(c.screenBase + 0.45, c.cowlHeight + 0.22, c.roofStart - 0.12, top - 0.05, c.roofStart + 0.16, top)} ` +
    `L${curve(glassTop - (closed ? 0.08 : 0.14), top)} ` +
    (closed
      ? `Q${curve(glassEnd, top, glassEnd, top - 0.12)} L${curve(glassEnd, belt + 0.05)} `
      : `C${curve(glassTop + 0.02, top - 0.01, rearFoot - 0.12, belt + 0.3, rearFoot, c.deckHeight + 0.05)} `) +
    `Q${curve((c.screenBase + rearFoot) / 2, belt)} ${curve(c.screenBase + 0.26, c.cowlHeight + 0.04)} Z`;

  const boxy = body === "van" || body === "estate" || body === "sport utility" || body === "hatch";
  const shoulder = boxy
    ? `L${curve(tail - 0.02, c.tailHeight)}`
    : `C${curve(c.deckStart + 0.2, c.deckHeight + 0.02, tail - 0.2, c.tailHeight + 0.04, tail - 0.04, c.tailHeight)}`;
  const upper =
    `M${curve(0.03, c.lineHeight)} C${curve(0.02, c.noseHeight - 0.02, 0.1, c.noseHeight, 0.22, c.noseHeight + 0.02)} ` +
    `C${curve(c.screenBase * 0.5, c.noseHeight + (c.cowlHeight - c.noseHeight) * 0.75, c.screenBase - 0.2, c.cowlHeight - 0.02, c.screenBase + 0.1, c.cowlHeight - 0.01)} ` +
    `Q${curve((c.screenBase + c.deckStart) / 2, belt - 0.05)} ${curve(Math.min(c.deckStart, tail - 0.1), c.deckHeight)} ${shoulder} ` +
    `C${curve(tail + 0.03, c.tailHeight - 0.1, tail + 0.03, c.lineHeight + 0.05, tail + 0.01, c.lineHeight)} Z`;

  // Behind the cab a van's wall rises to the roof: it is washed with the upper doors.
  const wallTop = c.height - 0.04;
  const wall =
    body === "van"
      ? ` M${curve(glassEnd + 0.07, belt - 0.03)} L${curve(glassEnd + 0.07, wallTop)} L${curve(tail - 0.16, wallTop)} Q${curve(tail, wallTop, tail, wallTop - 0.16)} L${curve(tail, belt - 0.03)} Z`
      : "";
  const sweep = down === 1 ? 0 : 1;
  const archTo = (axle: number, from: 1 | -1) => {
    const half = Math.sqrt(Math.max(0.01, arch * arch - (c.sillHeight - c.wheelRadius) ** 2));
    return [axle - from * half, axle + from * half] as const;
  };
  const [rearIn, rearOut] = archTo(c.rearAxle, -1);
  const [frontIn, frontOut] = archTo(c.frontAxle, -1);
  const lower =
    `M${curve(0.02, c.lineHeight)} L${curve(tail + 0.01, c.lineHeight)} C${curve(tail + 0.04, c.sillHeight + 0.16, tail - 0.02, c.sillHeight + 0.05, tail - 0.14, c.sillHeight + 0.03)} ` +
    `L${curve(rearIn, c.sillHeight)} A${r(arch * 100)} ${r(arch * 100)} 0 0 ${sweep} ${curve(rearOut, c.sillHeight)} ` +
    `L${curve(frontIn, c.sillHeight)} A${r(arch * 100)} ${r(arch * 100)} 0 0 ${sweep} ${curve(frontOut, c.sillHeight)} ` +
    `L${curve(0.16, c.sillHeight + 0.02)} C${curve(0.02, c.sillHeight + 0.06, -0.03, c.lineHeight - 0.12, 0.02, c.lineHeight)} Z`;

  const mirror = `M${curve(c.screenBase + 0.3, c.cowlHeight + 0.03)} c${r(2)} ${r(-14 * down)} ${r(20)} ${r(-16 * down)} ${r(24)} ${r(-6 * down)} c2 ${r(6 * down)} -4 ${r(9 * down)} -10 ${r(9 * down)} Z`;
  const roofline =
    `M${curve(c.screenBase + 0.02, c.cowlHeight)} C${curve(c.screenBase + 0.3, c.cowlHeight + 0.25, c.roofStart - 0.2, c.height - 0.02, c.roofStart + 0.1, c.height - 0.01)} ` +
    `Q${curve((c.roofStart + c.roofEnd) / 2, c.height + 0.02)} ${curve(c.roofEnd - 0.05, c.height - 0.03)} ` +
    `C${curve(c.roofEnd + 0.1, c.height - 0.06, c.deckStart - 0.1, c.deckHeight + 0.12, Math.min(c.deckStart + 0.02, tail), c.deckHeight)}`;
  const pillars = [0.36, 0.68]
    .map((f) => c.roofStart + (glassTop - c.roofStart) * f + 0.05)
    .filter((m) => m < glassTop - 0.25)
    .map((m) => `M${curve(m, top - 0.01)} L${curve(m + 0.03, belt + 0.03)}`);
  const handles = [0.42, 0.78].map((f) => `M${curve(c.frontAxle + (c.rearAxle - c.frontAxle) * f + 0.1, belt - 0.12)} h14`);
  const doors = [c.frontAxle + arch + 0.08, (c.frontAxle + c.rearAxle) / 2 + 0.12, Math.min(c.rearAxle - arch * 0.3, glassEnd)].map(
    (d) => `M${curve(d, belt - 0.04)} L${curve(d + 0.02, c.sillHeight + 0.02)}`,
  );
  const shapes: Shape[] = [
    { zone: zones.upper, path: upper + wall, at: [x((c.frontAxle + c.rearAxle) / 2 - 0.25), y((c.lineHeight + belt) / 2 - 0.02)] },
    { zone: zones.lower, path: lower, at: [x((c.frontAxle + c.rearAxle) / 2), y((c.lineHeight + c.sillHeight) / 2)] },
    { zone: zones.glass, path: glass, at: [x((c.roofStart + Math.min(glassEnd, c.roofEnd)) / 2 + 0.12), y((belt + top) / 2)] },
    { zone: zones.mirror, path: mirror, at: [x(c.screenBase + 0.42), y(c.cowlHeight + 0.1)] },
  ];
  for (const [axle, [archZone, tyre, wheel]] of [
    [c.frontAxle, zones.front],
    [c.rearAxle, zones.rear],
  ] as const) {
    const R = c.wheelRadius * 100;
    shapes.push({ zone: archZone, path: lip(x(axle), axleY, R * 1.42, R * 1.13, up), at: [x(axle), axleY - down * R * 1.27] });
    shapes.push({ zone: tyre, path: ring(x(axle), axleY, R, R * 0.64), at: [x(axle), axleY + down * R * 0.82] });
    shapes.push({ zone: wheel, path: disc(x(axle), axleY, R * 0.64), at: [x(axle), axleY] });
  }
  const spokes = [c.frontAxle, c.rearAxle].flatMap((axle) =>
    Array.from({ length: 5 }, (_, i) => {
      const a = (i / 5) * 2 * Math.PI - Math.PI / 2;
      const R = c.wheelRadius * 64;
      return `M${p(x(axle) + Math.cos(a) * R * 0.58, axleY + Math.sin(a) * R * 0.58)} L${p(x(axle) + Math.cos(a) * R * 0.94, axleY + Math.sin(a) * R * 0.94)}`;
    }),
  );
  return { shapes, lines: [...doors, ...pillars, ...handles, ...spokes], rails: [`${roofline} Z`] };
}

/** Draws a body unfolded: the top in the middle, sides, nose and tail folded out, shuts and underside beside it. */
export function unfold(body: Schemas["Body"], c: Profile): Drawing {
  const hyp = (dx: number, dz: number) => Math.hypot(dx, dz) * 100;
  const gap = 10;
  const pad = 8;
  const frontDepth = (c.noseHeight - 0.14) * 100;
  const bonnet = hyp(c.screenBase, c.cowlHeight - c.noseHeight);
  const screen = hyp(c.roofStart - c.screenBase, c.height - c.cowlHeight);
  const roof = (c.roofEnd - c.roofStart) * 100;
  const rearGlass = Math.max(28, hyp(c.deckStart - c.roofEnd, c.height - c.deckHeight));
  const boot = Math.max(34, (c.length - c.deckStart) * 100);
  const rearDepth = (c.tailHeight - 0.16) * 100;

  const sideHeight = c.height * 100;
  const mid = pad + sideHeight + gap + (c.width * 100) / 2;
  const half = (c.width * 100) / 2 - 4;
  const cabin = half * (body === "van" ? 0.92 : 0.8);

  const xs: number[] = [pad + frontDepth + 4];
  for (const part of [bonnet, screen, roof, rearGlass, boot]) xs.push((xs.at(-1) ?? 0) + part + 3);
  const [x0, x1, x2, x3, x4, x5] = xs as [number, number, number, number, number, number];
  const rearOuter = x5 + 4 + rearDepth;
  const sideX = (x0 + x5) / 2 - (c.length * 100) / 2;

  const shapes: Shape[] = [
    { zone: "front", path: plate(x0 - 4, pad, half, -7, mid), at: [pad + frontDepth * 0.48, mid] },
    { zone: "bonnet", path: strip(x0, half * 0.9, -10, x1 - 3, half * 0.98, -9, mid), at: [(x0 + x1) / 2 - 8, mid] },
    { zone: "windscreen", path: strip(x1, half * 0.96, -9, x2 - 3, cabin, -6, mid), at: [(x1 + x2) / 2 - 8, mid] },
    { zone: "roof", path: strip(x2, cabin, -6, x3 - 3, cabin * 0.97, 4, mid), at: [(x2 + x3) / 2, mid] },
    { zone: "rear-glass", path: strip(x3, cabin * 0.97, 4, x4 - 3, half * 0.9, 5, mid), at: [(x3 + x4) / 2 + 3, mid] },
    { zone: "boot-lid", path: strip(x4, half * 0.92, 5, x5 - 3, half * 0.9, 7, mid), at: [(x4 + x5) / 2 + 4, mid] },
    { zone: "rear", path: plate(x5 + 1, rearOuter, half, 7, mid), at: [x5 + rearDepth * 0.5 + 2, mid] },
  ];
  const left = side(c, leftZones, sideX, mid + (c.width * 100) / 2 + gap, 1, body);
  const right = side(c, rightZones, sideX, mid - (c.width * 100) / 2 - gap, -1, body);
  shapes.push(...left.shapes, ...right.shapes);

  const width = rearOuter + pad + 4;
  const height = 2 * mid;
  // The parts no outline shows stand in the free corners.
  const room = Math.max(58, width - (sideX + c.length * 100) - 18);
  const cornerX = width - pad - room;
  shapes.push({
    zone: "shuts",
    path: `M${p(cornerX, pad + 86)} L${p(cornerX, pad + 40)} Q${p(cornerX + 14, pad + 6)} ${p(cornerX + 40, pad + 4)} L${p(cornerX + room, pad + 4)} L${p(cornerX + room, pad + 86)} Z M${p(cornerX + 10, pad + 42)} L${p(cornerX + room - 9, pad + 42)} L${p(cornerX + room - 9, pad + 14)} L${p(cornerX + 42, pad + 14)} Q${p(cornerX + 20, pad + 18)} ${p(cornerX + 10, pad + 42)} Z`,
    at: [cornerX + room / 2, pad + 57],
  });
  const under = height - pad;
  shapes.push({
    zone: "underside",
    path: `M${p(cornerX, under - 62)} q0 -12 12 -12 h${r(room - 24)} q12 0 12 12 v50 q0 12 -12 12 h${r(-room + 24)} q-12 0 -12 -12 Z`,
    at: [cornerX + room / 2, under - 37],
  });
  shapes.push({
    zone: "tips",
    path: `${disc(rearOuter - 14, mid + half * 0.48, 8)} ${disc(rearOuter - 14, mid + half * 0.48, 4)}`,
    at: [rearOuter - 14, mid + half * 0.48],
  });

  const lamp = half * 0.56;
  const lines = [
    ...left.lines,
    ...right.lines,
    // lamps, grille, plate
    ...[-1, 1].map((s) => `M${p(x0 - 12, mid + s * lamp)} q-16 ${r(s * 4)} -20 ${r(s * 24)} q12 ${r(s * 8)} 20 ${r(s * 6)}`),
    `M${p(x0 - 14, mid - lamp * 0.7)} Q${p(x0 - 26, mid)} ${p(x0 - 14, mid + lamp * 0.7)}`,
    `M${p(pad + 14, mid - lamp * 0.9)} Q${p(pad + 8, mid)} ${p(pad + 14, mid + lamp * 0.9)}`,
    ...[-1, 1].map((s) => `M${p(x5 + 10, mid + s * lamp * 1.1)} q18 ${r(s * 4)} 18 ${r(s * 26)} `),
    ...[-1, 1].map(
      (s) => `M${p(x0 + 8, mid + s * half * 0.55)} Q${p((x0 + x1) / 2, mid + s * half * 0.5)} ${p(x1 - 14, mid + s * half * 0.66)}`,
    ),
  ];
  return { shapes, lines, rails: [...left.rails, ...right.rails], width, height };
}

/** The zone nearest in a direction, for the arrow keys. */
export function neighbour(shapes: Shape[], from: Zone, dx: number, dy: number): Zone {
  const start = shapes.find((s) => s.zone === from);
  if (!start) return shapes[0]?.zone ?? from;
  let best = from;
  let least = Infinity;
  for (const s of shapes) {
    const [ax, ay] = [s.at[0] - start.at[0], s.at[1] - start.at[1]];
    const along = ax * dx + ay * dy;
    if (along <= 4) continue;
    const cost = along + 2.2 * Math.abs(ax * dy - ay * dx);
    if (cost < least) [best, least] = [s.zone, cost];
  }
  return best;
}
