// The instructor's circuits.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';
import { Shell } from '../../app/Shell';

export default function Circuits() {
  const circuits = useQuery({ queryKey: ['circuits'], queryFn: () => ask(api.GET('/api/circuits')) });
  return (
    <Shell crumbs={[{ text: 'Circuits' }]}>
      <main className="page">
        <h1>Circuits</h1>
        <p className="quiet">Open one to set a fault and see every reading it leads to.</p>
        {circuits.error && <p className="error-line">{circuits.error.message}</p>}
        <table className="sheet-table">
          <thead>
            <tr>
              <th>Circuit</th>
              <th>Changed</th>
            </tr>
          </thead>
          <tbody>
            {circuits.data?.map((c) => (
              <tr key={c.id}>
                <td>
                  <Link to={`/circuits/${c.id}/fault-bench`}>{c.title}</Link>
                </td>
                <td className="quiet">{new Date(c.updated_at * 1000).toLocaleDateString()}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </main>
    </Shell>
  );
}
