// What a student has to do.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';
import { Shell } from '../../app/Shell';

const PURPOSES = { marks: 'marks', practice: 'practice, with hints', tools: 'learning the tools' };

export default function Attempts() {
  const attempts = useQuery({ queryKey: ['attempts'], queryFn: () => ask(api.GET('/api/attempts')) });
  return (
    <Shell crumbs={[{ text: 'Bench' }]}>
      <main className="page" tabIndex={0}>
        <h1>Your work orders</h1>
        {attempts.error && <p className="error-line">{attempts.error.message}</p>}
        {attempts.data?.length === 0 && (
          <p>Nothing has been given to you yet. Your instructor gives out work orders.</p>
        )}
        <table className="sheet-table">
          <thead>
            <tr>
              <th>Work order</th>
              <th>For</th>
              <th>Stands</th>
              <th />
              <th />
            </tr>
          </thead>
          <tbody>
            {attempts.data?.map((a) => (
              <tr key={a.id}>
                <td>
                  <Link to={`/attempts/${a.id}`}>{a.title}</Link>
                </td>
                <td className="quiet">{PURPOSES[a.purpose]}</td>
                <td>{a.handed_in ? 'handed in' : a.steps > 0 ? `step ${a.steps}` : 'not begun'}</td>
                <td>
                  <Link to={`/attempts/${a.id}/paper`}>On paper</Link>
                </td>
                <td>
                  {a.handed_in && (
                    <Link to={`/attempts/${a.id}/sheet`}>{a.purpose === 'marks' ? 'Mark sheet' : 'Step by step'}</Link>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </main>
    </Shell>
  );
}
