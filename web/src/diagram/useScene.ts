// The diagram of a drawing on a sheet as large as what holds it.
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useLayoutEffect, useState, type RefObject } from 'react';

import { api, ApiError, ask, type Drawing } from '../api/client';
import type { Scene } from './scene';

export type SheetSize = { width: number; height: number };

/** A sheet is asked for anew when what holds it grows or shrinks by so many pixels. */
const STEP = 16;
/** Nothing is laid out for less than this: one moves about on a larger sheet. */
const LEAST: SheetSize = { width: 560, height: 320 };

/** Pixels of an element, kept up to date. */
export function useSize(element: RefObject<HTMLElement | null>): SheetSize | undefined {
  const [size, setSize] = useState<SheetSize>();
  useLayoutEffect(() => {
    const around = element.current;
    if (!around) return;
    const measure = () => {
      const [width, height] = [around.clientWidth, around.clientHeight];
      setSize((old) => (old?.width === width && old.height === height ? old : { width, height }));
    };
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(around);
    return () => watch.disconnect();
  }, [element]);
  return size;
}

/** How often a diagram that could not be had is asked for again, in milliseconds. */
const AGAIN = 3000;

/** With `whole`, all of it is on the sheet, however small. A diagram that was had stays until there is another. */
export function useScene(drawing: Drawing, size: SheetSize | undefined, whole: boolean) {
  const step = (pixels: number, least: number) => Math.max(Math.floor(pixels / STEP) * STEP, least);
  const sheet = size && { width: step(size.width, LEAST.width), height: step(size.height, LEAST.height) };
  const queries = useQueryClient();
  const lay = () =>
    ask(
      api.GET('/api/diagrams/{shape}', {
        params: { path: { shape: drawing.shape }, query: { ...(sheet ?? LEAST), whole } },
      }),
    );
  const scene = useQuery({
    queryKey: [DIAGRAM, drawing.shape, sheet, whole],
    queryFn: async () => {
      try {
        return await lay();
      } catch (error) {
        if (!(error instanceof ApiError) || error.status !== 404) throw error;
        // A server that was started anew knows no drawing before it has given it out again.
        await queries.refetchQueries({ type: 'active', predicate: (q) => q.queryKey[0] !== DIAGRAM });
        return lay();
      }
    },
    enabled: sheet !== undefined && drawing.shape !== '',
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.status === 'error' ? AGAIN : false),
  });
  const [last, setLast] = useState<{ shape: string; scene: Scene }>();
  if (scene.data && !scene.isPlaceholderData && last?.scene !== scene.data) {
    setLast({ shape: drawing.shape, scene: scene.data });
  }
  const kept = last?.shape === drawing.shape ? last.scene : undefined;
  return { scene: scene.data ?? kept, error: scene.error };
}

const DIAGRAM = 'diagram';
