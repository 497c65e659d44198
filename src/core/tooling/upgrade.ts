/** Tools as job versions 1 and 2 and the library of that time wrote them: cutter, holder and mount in one flat record. */

type Json = Record<string, unknown>;

const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Without the fields that were not there. */
const said = (fields: Json): Json => Object.fromEntries(Object.entries(fields).filter(([, v]) => v !== undefined));

const insertCutter = (t: Json): Json => said({ kind: 'insert', designation: t.insert, material: t.material });

const PARTS: Readonly<Record<string, (t: Json) => { cutter: Json; holder: Json; stickOut: unknown }>> = {
  turning: (t) => ({
    cutter: insertCutter(t),
    holder: said({ kind: 'shank', hand: t.hand, approachAngle: t.approachAngle, side: t.shank }),
    stickOut: t.overhang ?? 40,
  }),
  boring: (t) => ({
    cutter: insertCutter(t),
    holder: said({
      kind: 'bar',
      hand: t.hand,
      approachAngle: t.approachAngle,
      diameter: t.barDiameter,
      noseToAxis: t.noseToAxis,
      material: t.bar,
    }),
    stickOut: t.overhang,
  }),
  drill: (t) => ({
    cutter: said({
      kind: 'drill',
      diameter: t.diameter,
      pointAngle: t.pointAngle,
      fluteLength: t.fluteLength,
      material: t.material,
    }),
    // the sleeve that was drawn around every drill
    holder: { kind: 'sleeve', diameter: Math.max(Number(t.diameter) + 12, 20), length: 30 },
    stickOut: t.overhang,
  }),
  cutoff: (t) => ({
    cutter: said({
      kind: 'blade',
      width: t.width,
      cornerRadius: t.cornerRadius,
      reach: t.reach,
      leadAngle: t.leadAngle,
      material: t.material,
    }),
    holder: said({ kind: 'block', side: t.shank }),
    stickOut: t.overhang ?? 45,
  }),
};

/** A tool of any age as cutter, holder and assembly; what it is not sure of is left for the schema to complain about. */
export const upgradedTool = (value: unknown): unknown => {
  if (!isObject(value) || 'cutter' in value || typeof value.kind !== 'string') return value;
  const parts = PARTS[value.kind];
  if (!parts) return value;
  const made = parts(value);
  return said({ id: value.id, name: value.name, note: value.note, kind: value.kind, ...made });
};

/** Where tools stand, from stations that named a tool each and tools that said their own way up and offset. */
export const mountsFromStations = (stations: unknown, tools: unknown): unknown => {
  if (!isObject(stations)) return stations;
  const of = (id: unknown): Json => {
    const tool = isObject(tools) && typeof id === 'string' ? tools[id] : undefined;
    return isObject(tool) ? tool : {};
  };
  return Object.fromEntries(
    Object.entries(stations).map(([carrier, list]) => [
      carrier,
      isObject(list)
        ? Object.fromEntries(
            Object.entries(list).map(([station, id]) => [
              station,
              { 1: said({ tool: id, wayUp: of(id).wayUp, offset: of(id).offset }) },
            ]),
          )
        : list,
    ]),
  );
};
