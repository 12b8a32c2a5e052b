// The bench for trying the tools: what can be tried on this machine, and what it teaches.
import { useQuery } from '@tanstack/react-query';

import { api, ask } from '../../api/client';
import './Experiments.css';

export function Experiments({ id }: { id: number }) {
  const found = useQuery({
    queryKey: ['experiments', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/experiments', { params: { path: { id } } })),
    staleTime: Infinity,
  });
  return (
    <section aria-label="Things to try" className="in-reasoning">
      <h2 className="close">Things to try</h2>
      {found.error && <p className="error-line">{found.error.message}</p>}
      {found.isPending && <p className="quiet">Looking for places that mislead …</p>}
      {found.data?.length === 0 && <p className="quiet">Try what you like: nothing here can be broken for good.</p>}
      {found.data?.map((e) => (
        <details key={e.title} className="experiment">
          <summary>{e.title}</summary>
          <ol>
            {e.steps.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ol>
          <p className="quiet">{e.teaches}</p>
        </details>
      ))}
    </section>
  );
}
