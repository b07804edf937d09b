export function Procedures() {
  return null;
}
