/** The sign of the program: a whorl on its spindle. */
export const Mark = ({ size }: { size: number }) => (
  <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden fill="none" strokeLinecap="round">
    <path d="M12 1.5v21" stroke="var(--color-ink)" strokeWidth={1.6} />
    <ellipse cx={12} cy={15.5} rx={8.5} ry={3} stroke="var(--color-woad)" strokeWidth={1.8} />
    <path d="M9 9.5c2-1.6 4 1.6 6 0M9.6 6.8c1.6-1.2 3.2 1.2 4.8 0" stroke="var(--color-madder)" strokeWidth={1.4} />
  </svg>
);
