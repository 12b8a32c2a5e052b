// What a lesson practised, told with its sheet, and what comes next in the course.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';

export function Afterwards({ attempt }: { attempt: number }) {
  const told = useQuery({
    queryKey: ['practised', attempt],
    queryFn: () => ask(api.GET('/api/attempts/{id}/practised', { params: { path: { id: attempt } } })),
  });
  if (!told.data || (told.data.skills.length === 0 && !told.data.next)) return null;
  const { skills, next } = told.data;
  return (
    <section aria-label="What this lesson practised" className="apart" id="practised">
      {skills.length > 0 && (
        <>
          <h2>What this lesson practised</h2>
          <ul>
            {skills.map((s) => (
              <li key={s.id}>
                <b>{s.name}</b>: {s.about}
              </li>
            ))}
          </ul>
        </>
      )}
      {next && (
        <p>
          Next in the course: <Link to={`/attempts/${next.attempt}`}>{next.title}</Link>
        </p>
      )}
    </section>
  );
}
