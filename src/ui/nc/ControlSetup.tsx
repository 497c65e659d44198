'use client';
import { useState } from 'react';
import { controlOf, findDialect } from '@/core/dialects';
import { ControlSetupSchema, type ControlSetup as Setup } from '@/core/machine';
import { useDocument } from '../job/document';
import { type Changed, Choice, NumberField, Row, Toggle } from '../kit/controls';

/** What a number may be, told where another one was typed. */
const BOUNDS: Partial<Record<keyof Setup, string>> = {
  decimals: 'Decimals of lengths must be 3, 4 or 5.',
  feedDecimals: 'Decimals of feeds must be 3, 4 or 5.',
  retract: 'The retract must be 0.05 to 5 mm.',
  waitBase: 'Waits count from a whole number of 100 to 900.',
};

const HEADS = { 'two-block': 'two blocks', 'one-block': 'one block', none: 'no cycle' } as const;
const HEAD_OPTIONS = Object.entries(HEADS).map(([value, label]) => ({ value, label }));

/** The setup with a value given, or left to the control with undefined; nothing of its own is no setup. */
const withSetting = (setup: Setup | undefined, key: keyof Setup, value: unknown): Setup | undefined => {
  const { [key]: _, ...others } = setup ?? {};
  const now = value === undefined ? others : { ...others, [key]: value };
  return Object.keys(now).length === 0 ? undefined : (now as Setup);
};

/** How the machine's control writes numbers, cycles and waits: as the control by itself, until the machine says otherwise. */
export const ControlSetup = () => {
  const machine = useDocument((s) => s.job.machine);
  const edit = useDocument((s) => s.edit);
  const [wrong, setWrong] = useState<string | null>(null);
  const [now, usual] = [controlOf(machine), findDialect(machine.dialect)];
  if (!now || !usual) return null;
  const { setup } = machine;
  const bare = controlOf({ ...machine, setup: withSetting(setup, 'retract', undefined) });
  const own = Object.keys(setup ?? {}).length;
  const put = (key: keyof Setup, value: unknown): void => {
    const sound = ControlSetupSchema.safeParse({ [key]: value }).success;
    setWrong(sound ? null : (BOUNDS[key] ?? 'This cannot be.'));
    if (!sound) return;
    edit('how the control is set up', (j) => {
      const { setup: old, ...rest } = j.machine;
      const next = withSetting(old, key, value);
      return { ...j, machine: next ? { ...rest, setup: next } : rest };
    });
  };
  const changed = (key: keyof Setup, began: string): Changed | null =>
    setup?.[key] === undefined
      ? null
      : { began, source: `${usual.name} by itself`, onReset: () => put(key, undefined) };
  const heads = (key: 'roughing' | 'threading', label: string, value: string, began: string) => (
    <Row label={label} changed={changed(key, HEADS[began as keyof typeof HEADS])}>
      <Choice label={label} value={value} options={HEAD_OPTIONS} onChange={(v) => put(key, v)} className="w-24" />
    </Row>
  );
  const whole = (key: 'decimals' | 'feedDecimals' | 'waitBase', label: string, value: number, began: number) => (
    <Row label={label} changed={changed(key, String(began))}>
      <NumberField label={label} value={value} onChange={(v) => v !== null && put(key, v)} width="w-14" />
    </Row>
  );
  return (
    <details className="border-t border-hair px-3 py-2.5" data-testid="control-setup">
      <summary className="eyebrow">How its control is set up{own > 0 ? `: ${own} of its own` : ''}</summary>
      <p className="mt-1 mb-1 text-soft">As {usual.name} is by itself, until the machine says otherwise.</p>
      {whole('decimals', 'Length decimals', now.decimals, usual.decimals)}
      {whole('feedDecimals', 'Feed decimals', now.feedDecimals, usual.feedDecimals)}
      {heads('roughing', 'Roughing head', now.cycles.roughing, usual.cycles.roughing)}
      {now.cycles.roughing === 'one-block' && (
        <Row label="Its retract" unit="mm" changed={changed('retract', String(bare?.cycles.retract))}>
          <NumberField
            label="Retract of roughing"
            unit="mm"
            value={now.cycles.retract}
            onChange={(v) => v !== null && put('retract', v)}
            width="w-14"
          />
        </Row>
      )}
      {heads('threading', 'Thread head', now.cycles.threading ?? 'none', usual.cycles.threading ?? 'none')}
      <Row label="Pecks as cycles" changed={changed('peck', usual.cycles.peck ? 'on' : 'off')}>
        <Toggle label="Pecks as cycles" on={now.cycles.peck} onChange={(v) => put('peck', v)} />
      </Row>
      {machine.channels.length > 1 && whole('waitBase', 'Waits from M', now.wait.base, usual.wait.base)}
      {wrong && (
        <p className="mt-1 text-madder" role="alert">
          ✕ {wrong}
        </p>
      )}
    </details>
  );
};
