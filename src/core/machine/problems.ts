import { type Finding, note } from '../findings';
import { length3, onceFor } from '../geometry';
import type { Joint, Link } from './links';
import type { Machine } from './machine';
import { mayReach, reachOf } from './reach';
import { chainTo } from './tree';

/** Something wrong with a machine, and the value of the machine that it is about, as names joined by dots. */
export interface MachineProblem {
  readonly place: string;
  readonly finding: Finding;
}

const twice = (machine: Machine): MachineProblem[] =>
  (['links', 'spindles', 'carriers', 'devices', 'channels'] as const).flatMap((list) => {
    const ids = machine[list].map((k) => k.id);
    return ids.flatMap((id, i) =>
      ids.indexOf(id) < i
        ? [{ place: `${list}.${i}.id`, finding: note('blocking', 'machine-twice', null, { id, list }) }]
        : [],
    );
  });

/** Whose joint it is, as people call it. */
const ownerOf = (machine: Machine, link: Link): string =>
  [...machine.carriers, ...machine.spindles].find((k) => chainTo(machine, k.link).includes(link))?.name ??
  `link ${link.id}`;

const jointProblems = (machine: Machine, joint: Joint, link: Link, place: string): MachineProblem[] => {
  const { min, max, axis, home, direction } = joint;
  const of = ownerOf(machine, link);
  const found: MachineProblem[] = [];
  if (Math.abs(length3(direction) - 1) > 1e-3)
    found.push({
      place: `${place}.direction`,
      finding: note('blocking', 'machine-direction', null, { link: link.id, length: length3(direction) }),
    });
  if ((min === null) !== (max === null) || (joint.kind === 'linear' && min === null))
    found.push({ place, finding: note('blocking', 'machine-open-travel', null, { axis, link: link.id }) });
  else if (min !== null && max !== null && min >= max)
    found.push({
      place: `${place}.min`,
      finding: note('blocking', 'limits-crossed', null, { axis: `Axis ${axis}`, of, min, max }),
    });
  else if (min !== null && max !== null && (home < min || home > max))
    found.push({
      place: `${place}.home`,
      finding: note('blocking', 'machine-home', null, { axis, link: link.id, home, min, max }),
    });
  return found;
};

const linkProblems = (machine: Machine): MachineProblem[] => {
  const known = new Set(machine.links.map((l) => l.id));
  return machine.links.flatMap((link, i) => {
    const place = `links.${i}`;
    const found = link.joint ? jointProblems(machine, link.joint, link, `${place}.joint`) : [];
    const { parent } = link;
    if (parent === null) {
      if (link.joint) found.push({ place, finding: note('blocking', 'machine-no-parent', null, { link: link.id }) });
      return found;
    }
    if (!known.has(parent))
      found.push({
        place: `${place}.parent`,
        finding: note('blocking', 'machine-parent', null, { link: link.id, parent }),
      });
    else if (chainTo(machine, link.id)[0]?.parent === link.id)
      found.push({ place: `${place}.parent`, finding: note('blocking', 'machine-loop', null, { link: link.id }) });
    return found;
  });
};

/** Names that point at nothing in the machine. */
const referenceProblems = (machine: Machine): MachineProblem[] => {
  const names = {
    link: new Set(machine.links.map((l) => l.id)),
    spindle: new Set(machine.spindles.map((s) => s.id)),
    carrier: new Set(machine.carriers.map((c) => c.id)),
    device: new Set(machine.devices.map((d) => d.id)),
  };
  const found: MachineProblem[] = [];
  const look = (place: string, what: keyof typeof names, name: string | null): void => {
    if (name === null || names[what].has(name)) return;
    const known = [...names[what]].join(', ') || 'none';
    found.push({ place, finding: note('blocking', 'machine-reference', null, { what, name, known }) });
  };
  machine.spindles.forEach((s, i) => {
    look(`spindles.${i}.link`, 'link', s.link);
    look(`spindles.${i}.bush.link`, 'link', s.bush?.link ?? null);
  });
  machine.carriers.forEach((c, i) => {
    look(`carriers.${i}.link`, 'link', c.link);
    for (const [k, s] of c.reaches.entries()) look(`carriers.${i}.reaches.${k}`, 'spindle', s);
  });
  for (const [i, d] of machine.devices.entries()) look(`devices.${i}.link`, 'link', d.link);
  machine.channels.forEach((c, i) => {
    look(`channels.${i}.carrier`, 'carrier', c.carrier);
    for (const [k, s] of c.spindles.entries()) look(`channels.${i}.spindles.${k}`, 'spindle', s);
    for (const [k, d] of c.devices.entries()) look(`channels.${i}.devices.${k}`, 'device', d);
    for (const link of Object.keys(c.words)) look(`channels.${i}.words.${link}`, 'link', link);
  });
  return found;
};

/** Words that a channel has twice, carriers that nobody commands, and tools that could never come to the work. */
const reachProblems = (machine: Machine): MachineProblem[] => {
  const found: MachineProblem[] = [];
  machine.channels.forEach((c, i) => {
    const seen = new Map<string, string>();
    for (const [link, word] of Object.entries(c.words)) {
      const other = seen.get(word);
      if (other !== undefined)
        found.push({
          place: `channels.${i}.words.${link}`,
          finding: note('blocking', 'machine-word', null, { word, channel: c.name, links: `${other} and ${link}` }),
        });
      seen.set(word, link);
    }
  });
  machine.carriers.forEach((carrier, i) => {
    const place = `carriers.${i}`;
    const commanding = machine.channels.filter((c) => c.carrier === carrier.id);
    if (commanding.length !== 1) {
      const by = commanding.map((c) => c.name).join(' and ');
      found.push({
        place,
        finding: note('blocking', 'machine-commanded', null, { carrier: carrier.name, by }),
      });
      return;
    }
    for (const spindle of machine.spindles) {
      if (!mayReach(carrier, spindle.id)) continue;
      const axes = reachOf(machine, carrier.id, spindle.id)?.axes ?? {};
      const lacks = (['X', 'Z'] as const).filter((k) => !axes[k]);
      if (lacks.length > 0)
        found.push({
          place,
          finding: note('blocking', 'machine-no-way', null, {
            carrier: carrier.name,
            spindle: spindle.name,
            axes: lacks.join(' and '),
          }),
        });
    }
  });
  return found;
};

/** All that is wrong with a machine as such; a tree that is broken is told first and alone. Looked into once for each machine. */
export const machineProblems = onceFor((machine: Machine): readonly MachineProblem[] => {
  const broken = [...twice(machine), ...linkProblems(machine), ...referenceProblems(machine)];
  return broken.length > 0 ? broken : reachProblems(machine);
});
