// The layout of a drawing: from the server, where somebody has laid it out before, else made here. The
// library that makes one is large, so it is loaded only then.
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';

import { api, type Drawing } from '../api/client';
import { is, useMe } from '../app/me';
import { moved, type Layout } from './layout';

/** Counts the ways of laying out: a layout of an earlier one is not taken. */
const WAY = 1;

export function useLayout(drawing: Drawing | undefined) {
  const me = useMe();
  const shape = `${drawing?.shape ?? ''}-${WAY}`;
  const query = useQuery({
    queryKey: ['layout', shape],
    queryFn: () => find(drawing as Drawing, shape, is(me.data, 'instructor')),
    enabled: drawing !== undefined && me.data !== undefined,
    staleTime: Infinity,
  });
  const laid = query.data;
  const data = useMemo(() => drawing && laid && moved(drawing, laid), [drawing, laid]);
  return { data, error: query.error };
}

async function find(drawing: Drawing, shape: string, keeps: boolean): Promise<Layout> {
  const params = { params: { path: { shape } } };
  const known = await api.GET('/api/layouts/{shape}', params);
  if (known.data) return known.data;
  const { layOut } = await import('./makeLayout');
  const made = await layOut(drawing);
  if (keeps) void api.PUT('/api/layouts/{shape}', { ...params, body: made });
  return made;
}
