import { Navigate, createBrowserRouter, type RouteObject } from "react-router";
import { Broken, NoPage } from "./broken";
import { Shell } from "./shell";

/** Each section loads when it is first opened. */
const sections: RouteObject[] = [
  { index: true, lazy: async () => ({ Component: (await import("./yard/Yard")).Yard }) },
  { path: "day", lazy: async () => ({ Component: (await import("./yard/Day")).Day }) },
  { path: "look-over", lazy: async () => ({ Component: (await import("./yard/Pick")).PickLookOver }) },
  { path: "look-over/:id/again", lazy: async () => ({ Component: (await import("./lookover/Again")).Again }) },
  { path: "look-over/:id", lazy: async () => ({ Component: (await import("./lookover/LookOver")).LookOver }) },
  { path: "plan/:id", lazy: async () => ({ Component: (await import("./plan/Plan")).Plan }) },
  { path: "plan/:id/print", lazy: async () => ({ Component: (await import("./plan/Sheet")).Sheet }) },
  { path: "bay", lazy: async () => ({ Component: (await import("./yard/Pick")).PickBay }) },
  { path: "bay/:id", lazy: async () => ({ Component: (await import("./bay/Bay")).Bay }) },
  { path: "procedures", lazy: async () => ({ Component: (await import("./procedures/Procedures")).Procedures }) },
  { path: "procedures/:id", lazy: async () => ({ Component: (await import("./procedures/Procedure")).ProcedurePage }) },
  { path: "procedures/:id/write", lazy: async () => ({ Component: (await import("./procedures/Write")).Write }) },
  { path: "procedures/:id/print", lazy: async () => ({ Component: (await import("./procedures/Print")).Print }) },
  { path: "audits", lazy: async () => ({ Component: (await import("./audits/Audits")).Audits }) },
  { path: "audits/agreement", lazy: async () => ({ Component: (await import("./audits/Agreement")).Agreement }) },
  { path: "audits/:id/second", lazy: async () => ({ Component: (await import("./audits/Second")).Second }) },
  { path: "audits/all", lazy: async () => ({ Component: (await import("./audits/AllAudits")).AllAudits }) },
  { path: "audits/calibration", lazy: async () => ({ Component: (await import("./audits/Calibration")).Calibration }) },
  { path: "audits/calibration/:id", lazy: async () => ({ Component: (await import("./audits/Calibration")).CalibrationWalk }) },
  { path: "audits/findings", lazy: async () => ({ Component: (await import("./audits/Findings")).Findings }) },
  { path: "audits/week", lazy: async () => ({ Component: (await import("./audits/WeekSheet")).WeekSheet }) },
  { path: "audits/remedies", lazy: async () => ({ Component: (await import("./audits/Remedies")).Remedies }) },
  { path: "audits/remedies/new", lazy: async () => ({ Component: (await import("./audits/RemedyForm")).NewRemedy }) },
  { path: "audits/lists", lazy: async () => ({ Component: (await import("./audits/Lists")).Lists }) },
  { path: "audits/lists/:id/print", lazy: async () => ({ Component: (await import("./audits/PrintList")).PrintList }) },
  { path: "audits/lists/:id", lazy: async () => ({ Component: (await import("./audits/WriteList")).WriteList }) },
  { path: "audits/:id", lazy: async () => ({ Component: (await import("./audits/Audit")).Audit }) },
  { path: "training", lazy: async () => ({ Component: (await import("./training/Training")).Training }) },
  { path: "training/cases", lazy: async () => ({ Component: (await import("./training/Cases")).Cases }) },
  { path: "training/by-hand/:id", lazy: async () => ({ Component: (await import("./training/Run")).Run }) },
  { path: "training/drills/:id", element: <Navigate to="/training" replace /> }, // drills on paper, that there were once
  { path: "training/watch/:id", lazy: async () => ({ Component: (await import("./training/Watch")).Watch }) },
  { path: "training/lessons/:skill", lazy: async () => ({ Component: (await import("./training/Lesson")).Lesson }) },
  { path: "training/lessons/:skill/write", lazy: async () => ({ Component: (await import("./training/WriteRubric")).WriteRubric }) },
  { path: "times/:view?", lazy: async () => ({ Component: (await import("./times/Times")).Times }) },
  { path: "shelf", lazy: async () => ({ Component: (await import("./shelf/Shelf")).Shelf }) },
  { path: "book", lazy: async () => ({ Component: (await import("./yard/Book")).Book }) },
  { path: "book/:id", lazy: async () => ({ Component: (await import("./yard/Book")).ChangeBooking }) },
  { path: "vehicles/:id", lazy: async () => ({ Component: (await import("./yard/Vehicle")).Vehicle }) },
  { path: "first", lazy: async () => ({ Component: (await import("./yard/First")).First }) },
  { path: "settings/:part?", lazy: async () => ({ Component: (await import("./settings/Settings")).Settings }) },
  { path: "*", Component: NoPage },
];

/** A section that fails leaves the way to the others open. */
const held = sections.map((s) => ({ ...s, ErrorBoundary: Broken }) as RouteObject);

export const router = createBrowserRouter([
  { path: "/", Component: Shell, ErrorBoundary: Broken, HydrateFallback: () => null, children: held },
]);
