// The layout of a drawing, made again only when what is drawn changes.
import { useQuery } from '@tanstack/react-query';

import type { Drawing } from '../api/client';
import { layOut } from './layout';

export function useLayout(drawing: Drawing | undefined) {
  const shape = drawing && JSON.stringify([drawing.parts, drawing.wires, drawing.cavities, drawing.grounds, drawing.splices]);
  return useQuery({
    queryKey: ['layout', shape],
    queryFn: () => layOut(drawing as Drawing),
    enabled: drawing !== undefined,
    staleTime: Infinity,
  });
}
