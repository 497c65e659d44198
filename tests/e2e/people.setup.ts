import { mkdirSync } from 'node:fs';
import { type FullConfig, request } from '@playwright/test';
import { DEMO_PASSWORD, DEMO_PEOPLE } from '../../src/house/demo';
import { stateOf } from './helpers';

/** Signs everybody of the demo shop in once; tests take their sessions from files. */
const signEverybodyIn = async (config: FullConfig): Promise<void> => {
  mkdirSync('test-results', { recursive: true });
  for (const { name } of DEMO_PEOPLE) {
    const context = await request.newContext({ baseURL: config.projects[0].use.baseURL });
    const answer = await context.post('/api/session', { data: { name, password: DEMO_PASSWORD } });
    if (!answer.ok()) throw new Error(`${name} could not sign in: ${await answer.text()}`);
    await context.storageState({ path: stateOf(name) });
    await context.dispose();
  }
};

export default signEverybodyIn;
