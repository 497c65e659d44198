import { z } from 'zod';
import { bodyOf, route } from '@/server/door';
import { answer, isUuid, problem } from '@/server/http';
import { byOf, setLabels } from '@/server/jobs';

const Labels = z.object({
  labels: z
    .array(
      z
        .string()
        .trim()
        .min(1)
        .max(30)
        .regex(/^[^,\p{Cc}\p{Cs}]+$/u, 'a label has no commas'),
    )
    .max(12, 'A job has at most 12 labels.'),
});

export const PUT = route<{ id: string }>('program', async ({ request, params, person, address }) => {
  const body = await bodyOf(request, Labels);
  if (!body.ok) return body.response;
  const labels = [...new Set(body.value.labels)];
  if (!isUuid(params.id) || !(await setLabels(params.id, labels, byOf(person, address))))
    return problem(404, 'This job is not there any more.');
  return answer({ labels });
});
