// Writes psychrolib.csv, the reference for the moist-air test. psychrolib 1.1.1 (npm) implements ASHRAE
// Fundamentals (2017), chapter 1. Run from ui/: node ../core/climate/testdata/psychrolib.mjs > ../core/climate/testdata/psychrolib.csv
import { createRequire } from "node:module";
const require = createRequire(process.cwd() + "/");
const psy = require("psychrolib");
psy.SetUnitSystem(psy.SI);
console.log("temp,rh,saturation_pa,dew_point,wet_bulb,vapour_pa");
for (let t = -10; t <= 45; t += 5)
  for (const rh of [0.15, 0.4, 0.6, 0.85, 1]) {
    const row = [
      psy.GetSatVapPres(t),
      psy.GetTDewPointFromRelHum(t, rh),
      psy.GetTWetBulbFromRelHum(t, rh, 101325),
      psy.GetVapPresFromRelHum(t, rh),
    ];
    console.log([t, rh, ...row.map((x) => x.toFixed(4))].join(","));
  }
