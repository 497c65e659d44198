import { linkedMachine } from '@/core/machine';
import { upgradedTool } from '@/core/tooling';
import { listShop } from '@/db/shop';
import { route } from '@/server/door';
import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = route('view', async () => {
  const [machines, tools, materials] = await Promise.all([
    listShop('machines').then((machines) => machines.map(linkedMachine)),
    listShop('tools').then((tools) => tools.map(upgradedTool)),
    listShop('materials'),
  ]);
  return answer({ machines, tools, materials });
});
