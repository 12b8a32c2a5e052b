// What came of one's work: marks that show, and what to practise next.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';

export const useCame = () =>
  useQuery({
    queryKey: ['start', 'marked'],
    queryFn: () => ask(api.GET('/api/start/marked')),
    staleTime: 0,
  });

export function Came() {
  const came = useCame();
  if (!came.data || (came.data.marked.length === 0 && !came.data.lesson)) return null;
  const { marked, practise, lesson } = came.data;
  return (
    <section aria-label="What came of it" id="came">
      {practise && (
        <p className="close">
          <b>To practise next:</b> {practise}{' '}
          {lesson && <Link to={`/attempts/${lesson.attempt}`}>Practise on “{lesson.title}”</Link>}
        </p>
      )}
      {!practise && lesson && (
        <p className="close">
          To practise, without marks: <Link to={`/attempts/${lesson.attempt}`}>{lesson.title}</Link>
        </p>
      )}
      {marked.length > 0 && (
        <p className="close">
          Marked:{' '}
          {marked.map((m) => (
            <span key={m.attempt} className="spaced">
              <Link to={`/attempts/${m.attempt}/sheet`}>{m.title}</Link> <b className="mono">{m.says}</b>
            </span>
          ))}
        </p>
      )}
    </section>
  );
}
