// Where one is signed in, and ending it there.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';

import { api, ask } from '../api/client';

const moment = (at: number) =>
  new Date(at * 1000).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

export function SignIns() {
  const all = useQuery({ queryKey: ['sign-ins'], queryFn: () => ask(api.GET('/api/me/sign-ins')), gcTime: 0 });
  const end = async (id: string) => {
    await ask(api.DELETE('/api/me/sign-ins/{id}', { params: { path: { id } } }));
    await all.refetch();
  };
  if (!all.data) return null;
  return (
    <section aria-label="Where you are signed in">
      <h3 className="field-label">Where you are signed in</h3>
      <ul className="sign-ins">
        {all.data.map((s) => (
          <li key={s.id}>
            <span>
              {s.own ? 'here' : s.browser || 'another browser'}, since {moment(s.began_at)}
            </span>
            {!s.own && (
              <Button type="link" size="small" onClick={() => void end(s.id)} aria-label={`End it: ${s.browser}`}>
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
