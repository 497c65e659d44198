/** Something wrong with a file that is brought in, in words that name the place, the reason and the remedy. */
export interface ImportProblem {
  readonly code: string;
  readonly severity: 'blocking' | 'attention' | 'info';
  /** Entity number (STEP #n, DXF count from 1, facet of a mesh) where one is at fault. */
  readonly entity: number | null;
  /** Place in the file's own plane or in z, r of the section. */
  readonly at: readonly [number, number] | null;
  readonly message: string;
}

export const importProblem = (code: string, message: string, more: Partial<ImportProblem> = {}): ImportProblem => ({
  code,
  severity: 'blocking',
  entity: null,
  at: null,
  message,
  ...more,
});

export interface StepText {
  readonly problems: readonly ImportProblem[];
  /** Schema named in the head, such as AP214. */
  readonly schema: string;
  readonly entities: number;
  readonly solids: number;
  readonly surfaces: number;
}

/** The application protocols by the names that files carry. */
const schemaOf = (head: string): string => {
  if (/AP242|MANAGED_MODEL_BASED_3D/i.test(head)) return 'AP242';
  if (/AUTOMOTIVE_DESIGN/i.test(head)) return 'AP214';
  if (/CONFIG_CONTROL_DESIGN|AP203/i.test(head)) return 'AP203';
  return /FILE_SCHEMA\s*\(\s*\(\s*'([^']{0,40})/i.exec(head)?.[1] ?? 'unknown';
};

/** Numbers of geometry beyond this are no lengths of a part, in any unit; the kernel would work on them for ever. */
const FAR = 1e7;
const GEOMETRY = /POINT|CIRCLE|ELLIPSE|SURFACE|VECTOR|HYPERBOLA|PARABOLA|CURVE/;

/** First number of a geometric entity that is absurdly large. */
const farNumber = (text: string, data: number): { entity: number; at: number; text: string } | null => {
  const large = /[-+]?\d{8,}\.?\d*(?:E[-+]?\d+)?|[-+]?\d+\.\d*E\+?0*[1-9]\d*/gi;
  large.lastIndex = data;
  for (let m = large.exec(text); m; m = large.exec(text)) {
    if (!(Math.abs(Number(m[0])) > FAR) || /[#\d.]/.test(text[m.index - 1])) continue;
    const start = text.lastIndexOf(';', m.index) + 1;
    const head = /#(\d+)\s*=\s*([\s\S]*)/.exec(text.slice(start, m.index));
    if (head && GEOMETRY.test(head[2]) && !insideText(text, data, m.index))
      return { entity: Number(head[1]), at: m.index, text: m[0] };
  }
  return null;
};

/**
 * Looks through a STEP text before the kernel reads it: is it one, is it whole, does every reference lead somewhere, does
 * it hold a solid. One pass over the text.
 */
export const checkStepText = (text: string): StepText => {
  const empty = { schema: 'unknown', entities: 0, solids: 0, surfaces: 0 };
  const refuse = (code: string, message: string, entity: number | null = null): StepText => ({
    ...empty,
    problems: [importProblem(code, message, { entity })],
  });
  if (!/^\s*(?:\/\*[\s\S]*?\*\/\s*)?ISO-10303-21\s*;/.test(text.slice(0, 4000)))
    return refuse(
      'not-step',
      'This is not a STEP file: its first line should read ISO-10303-21. Export the part as STEP (AP203, AP214 or AP242) and bring that in.',
    );
  const data = text.indexOf('DATA;');
  if (data < 0) return refuse('torn', 'The file ends before its data begin. Export it again; this copy is cut off.');
  const defined = new Set<number>();
  const entity = /(?:^|[;\s])#(\d+)\s*=\s*(\(?\s*[A-Z0-9_]*)/g;
  entity.lastIndex = data;
  let solids = 0;
  let surfaces = 0;
  let last = 0;
  let lastAt = data;
  for (let m = entity.exec(text); m; m = entity.exec(text)) {
    last = Number(m[1]);
    lastAt = m.index;
    defined.add(last);
    if (/^(MANIFOLD_SOLID_BREP|BREP_WITH_VOIDS|FACETED_BREP)$/.test(m[2])) solids++;
    else if (/^(SHELL_BASED_SURFACE_MODEL|GEOMETRIC_SET|GEOMETRIC_CURVE_SET)$/.test(m[2])) surfaces++;
  }
  const problems: ImportProblem[] = [];
  const lineOf = (at: number): number => text.slice(0, at).split('\n').length;
  const end = /END-ISO-10303-21\s*;\s*$/.test(text.slice(-400));
  if (!end) {
    problems.push(
      importProblem(
        'torn',
        `The file is cut off inside entity #${last}, line ${lineOf(lastAt + 1)}: its end mark is missing, so faces would be missing too. Export or copy it again.`,
        {
          entity: last || null,
        },
      ),
    );
  } else {
    const reference = /#(\d+)/g;
    reference.lastIndex = data;
    const missing: { id: number; at: number }[] = [];
    for (let m = reference.exec(text); m && missing.length < 3; m = reference.exec(text)) {
      const id = Number(m[1]);
      if (!defined.has(id) && !insideText(text, data, m.index)) missing.push({ id, at: m.index });
    }
    if (missing.length > 0)
      problems.push(
        importProblem(
          'torn',
          `Line ${lineOf(missing[0].at)} refers to entity #${missing[0].id}, which the file does not hold. Part of it is lost; export it again.`,
          {
            entity: missing[0].id,
          },
        ),
      );
  }
  if (problems.length === 0) {
    const far = farNumber(text, data);
    if (far)
      problems.push(
        importProblem(
          'too-far',
          `Entity #${far.entity}, line ${lineOf(far.at)}, holds the number ${far.text}: no part is that large. Correct it where the part was drawn, and export it again.`,
          { entity: far.entity },
        ),
      );
  }
  if (problems.length === 0 && solids === 0)
    problems.push(
      surfaces > 0
        ? importProblem(
            'surfaces-only',
            'The file holds surfaces or curves only, no closed solid. Sew them to a solid where the part was drawn and export that.',
          )
        : importProblem(
            'no-solid',
            'The file holds no solid. Export the part itself, not an empty assembly or a drawing.',
          ),
    );
  return { problems, schema: schemaOf(text.slice(0, data)), entities: defined.size, solids, surfaces };
};

/** True when a place lies inside a quoted text; looked up only for references that lead nowhere. */
const insideText = (text: string, from: number, at: number): boolean => {
  const start = Math.max(from, text.lastIndexOf(';', at));
  let quotes = 0;
  for (let i = start; i < at; i++) if (text[i] === "'") quotes++;
  return quotes % 2 === 1;
};
