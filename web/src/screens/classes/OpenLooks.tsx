// Second looks that students wait for, with the way to their sheets.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';
import { Private } from '../../app/projector';

export function OpenLooks() {
  const looks = useQuery({
    queryKey: ['second-looks', 'open'],
    queryFn: () => ask(api.GET('/api/second-looks')),
    staleTime: 0,
  });
  if (!looks.data || looks.data.length === 0) return null;
  return (
    <section aria-label="Second looks" id="open-looks">
      <h2>Second looks asked for</h2>
      <ul>
        {looks.data.map((look) => (
          <li key={`${look.attempt} ${look.criterion}`}>
            <Link to={`/attempts/${look.attempt}/sheet`}>
              <Private>{look.student}</Private>, {look.lesson}
            </Link>
            <span className="quiet"> · {look.criterion}: </span>
            {look.asked}
          </li>
        ))}
      </ul>
    </section>
  );
}
