import { listLabels } from '@/db/jobs';
import { route } from '@/server/door';
import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = route('view', async () => answer({ labels: await listLabels() }));
