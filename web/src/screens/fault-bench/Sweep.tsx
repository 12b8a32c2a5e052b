// Every single fault through the screen in view: what each changes on it, piece by piece as it is worked out.
import { useInfiniteQuery } from '@tanstack/react-query';
import { Progress } from 'antd';
import { useEffect, useState } from 'react';

import { api, ask, type FaultDoc, type Scope } from '../../api/client';
import '../bench/Ledger.css';

type Props = {
  circuit: number;
  version: number;
  label: string;
  scope: Scope;
  onFault: (fault: FaultDoc) => void;
  onClose: () => void;
};

export function Sweep({ circuit, version, label, scope, onFault, onClose }: Props) {
  const [telling, setTelling] = useState(true);
  const sweep = useInfiniteQuery({
    queryKey: ['sweep', circuit, version, label, scope],
    queryFn: ({ pageParam }) =>
      ask(
        api.POST('/api/circuits/{id}/sweep', {
          params: { path: { id: circuit } },
          body: { label, scope, from: pageParam },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const done = pages.reduce((sum, p) => sum + p.rows.length, 0);
      return done < last.all ? done : undefined;
    },
    staleTime: Infinity,
    retry: false,
  });
  const { hasNextPage, isFetching, fetchNextPage, error } = sweep;
  useEffect(() => {
    if (hasNextPage && !isFetching && !error) void fetchNextPage();
  }, [hasNextPage, isFetching, error, fetchNextPage]);
  const pages = sweep.data?.pages ?? [];
  const rows = pages.flatMap((p) => p.rows);
  const all = pages[0]?.all ?? 0;
  const shows = rows.filter((r) => r.differs.length > 0);
  return (
    <section aria-label="All faults through this screen" id="sweep">
      <div className="row spread">
        <h2>All faults through this screen</h2>
        <button type="button" className="quiet-link" onClick={onClose}>
          close
        </button>
        <label className="quiet">
          <input type="checkbox" checked={telling} onChange={(e) => setTelling(e.target.checked)} /> only what shows (
          {shows.length} of {rows.length})
        </label>
      </div>
      {rows.length < all && (
        <Progress
          percent={Math.round((100 * rows.length) / all)}
          size="small"
          aria-label="Faults taken through the screen"
        />
      )}
      {error && <p className="error-line">{error.message}</p>}
      <table className="ledger key-rows">
        <tbody>
          {(telling ? shows : rows).map((r) => (
            <tr key={r.about}>
              <td>
                <button type="button" className="quiet-link" onClick={() => onFault(r.fault)}>
                  {r.about}
                </button>
                <div className="quiet">{r.differs.length > 0 ? r.differs.join('; ') : 'as healthy'}</div>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
