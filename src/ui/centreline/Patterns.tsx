/** Hatches of the drawing, for a line of one pixel (`hair` mm): stock, steel, leftover and gouge. */
export const Patterns = ({ hair }: { hair: number }) => (
  <defs>
    <Hatch id="hatch-stock" size={7 * hair} angle={45} ground="straw" line="straw-line" hair={hair} />
    <Hatch id="hatch-steel" size={6 * hair} angle={-45} ground="steel" line="steel-line" hair={hair} />
    <pattern id="stipple" width={4 * hair} height={4 * hair} patternUnits="userSpaceOnUse">
      <rect width={4 * hair} height={4 * hair} fill="var(--color-leftover)" />
      <circle cx={1.2 * hair} cy={1.2 * hair} r={0.9 * hair} fill="var(--color-weld-mark)" />
    </pattern>
    <pattern id="cross" width={5 * hair} height={5 * hair} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width={5 * hair} height={5 * hair} fill="var(--color-madder-pale)" />
      <path d={`M0 0H${5 * hair}M0 0V${5 * hair}`} stroke="var(--color-madder)" strokeWidth={hair} />
    </pattern>
  </defs>
);

const Hatch = ({
  id,
  size,
  angle,
  ground,
  line,
  hair,
}: {
  id: string;
  size: number;
  angle: number;
  ground: string;
  line: string;
  hair: number;
}) => (
  <pattern id={id} width={size} height={size} patternUnits="userSpaceOnUse" patternTransform={`rotate(${angle})`}>
    <rect width={size} height={size} fill={`var(--color-${ground})`} />
    <line x1="0" y1="0" x2="0" y2={size} stroke={`var(--color-${line})`} strokeWidth={hair} />
  </pattern>
);
