import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { deviceCalls } from '../dialects';
import { postJob, programText, proveJob } from '../nc';
import { OperationSchema } from '../operations';
import { derive } from './derive';
import type { Job } from './document';

/** LM-118 with a device called on before its second operation. */
const calling = (action: string, change: (job: Job) => void = () => undefined, time = 1.5): Job => {
  const job = demoJob('LM-118');
  const [first] = job.order['1'];
  const { holding, channel } = job.operations[first];
  const params = { action, time };
  job.operations.d1 = OperationSchema.parse({ kind: 'device', id: 'd1', name: action, holding, channel, params });
  job.order['1'].splice(1, 0, 'd1');
  change(job);
  return job;
};
const told = (job: Job): string[] =>
  derive(job).findings.flatMap((f) => (f.operation === 'd1' && f.severity === 'blocking' ? [f.code] : []));
const withDevice = (job: Job, code: string | null): void => {
  const { machine } = job;
  job.machine = {
    ...machine,
    devices: [...machine.devices, { id: 'conveyor', name: 'Chip conveyor', kind: 'conveyor', link: null }],
    channels: machine.channels.map((c) => ({ ...c, devices: [...c.devices, 'conveyor'] })),
    codes: code === null ? {} : { devices: { 'conveyor on': code, 'conveyor slow': 'M57' } },
  };
};

describe('a device that is called on for itself', () => {
  it('does what the machine’s code says, takes its time, and is proved', () => {
    const job = calling('catcher out');
    const d = derive(job);
    expect(told(job)).toEqual([]);
    const own = d.operations.find((o) => o.id === 'd1');
    expect((own?.times.end ?? 0) - (own?.times.start ?? 0)).toBeCloseTo(1.5 + job.machine.mCodeTime, 6);
    const texts = postJob(job, d, '').map(programText);
    expect(texts[0]).toMatch(/^M77$/m);
    expect(proveJob(job, d, texts).ok).toBe(true);
    expect(proveJob(job, d, [texts[0].replace(/^M77$/m, 'M78'), ...texts.slice(1)]).agrees).toBe(false);
  });
  it('may be the machine’s own, with codes of its own', () => {
    const job = calling('conveyor slow', (j) => withDevice(j, 'M56'));
    expect(deviceCalls(job.machine)).toContainEqual({ name: 'conveyor slow', code: 'M57', own: true });
    expect(told(job)).toEqual([]);
    const texts = postJob(job, derive(job), '').map(programText);
    expect(texts[0]).toMatch(/^M57$/m);
    expect(proveJob(job, derive(job), texts).ok).toBe(true);
  });
  it.each<[string, Job, string]>([
    ['nothing chosen', calling(''), 'device-unknown'],
    ['a device that is not there', calling('door open'), 'device-unknown'],
    ['a chuck, which other operations open', calling('chuck main open'), 'device-unknown'],
    ['one without a code', calling('conveyor off', (j) => withDevice(j, null)), 'event-not-run'],
    ['a time below nothing', calling('catcher out', undefined, -1), 'bad-number'],
    [
      'one that the channel does not command',
      calling('catcher out', (j) => {
        j.machine = { ...j.machine, channels: j.machine.channels.map((c) => ({ ...c, devices: ['bar feeder'] })) };
      }),
      'device-missing',
    ],
  ])('%s is told', (_what, job, code) => {
    expect(told(job)).toContain(code);
  });
});
