import { linkedMachine } from '@/core/machine';
import { upgradedTool } from '@/core/tooling';
import { listShop } from '@/db/shop';
import { guarded } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = guarded(async () => {
  const [machines, tools, materials] = await Promise.all([
    listShop('machines').then((machines) => machines.map(linkedMachine)),
    listShop('tools').then((tools) => tools.map(upgradedTool)),
    listShop('materials'),
  ]);
  return Response.json({ machines, tools, materials });
});
