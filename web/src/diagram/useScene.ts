// The diagram of a drawing on a sheet as large as what holds it.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useLayoutEffect, useState, type RefObject } from 'react';

import { api, ask, type Drawing } from '../api/client';

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

/** With `whole`, all of it is on the sheet, however small. */
export function useScene(drawing: Drawing, size: SheetSize | undefined, whole: boolean) {
  const step = (pixels: number, least: number) => Math.max(Math.floor(pixels / STEP) * STEP, least);
  const sheet = size && { width: step(size.width, LEAST.width), height: step(size.height, LEAST.height) };
  return useQuery({
    queryKey: ['diagram', drawing.shape, sheet, whole],
    queryFn: () =>
      ask(
        api.GET('/api/diagrams/{shape}', {
          params: { path: { shape: drawing.shape }, query: { ...(sheet ?? LEAST), whole } },
        }),
      ),
    enabled: sheet !== undefined && drawing.shape !== '',
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
}
