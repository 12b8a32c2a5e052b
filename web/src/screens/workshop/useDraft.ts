// A circuit being built: every change can be undone, is checked, and is stored by itself. Somebody
// else's change is never overwritten.
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';

import { api, ApiError, ask, type CircuitDoc } from '../../api/client';

/** A pause in typing after which a change is stored, in milliseconds. */
const PAUSE = 500;

type History = { past: CircuitDoc[]; now: CircuitDoc; future: CircuitDoc[] };

export function useDraft(id: number) {
  const begun = useQuery({
    queryKey: ['document', id],
    queryFn: () => ask(api.GET('/api/circuits/{id}/document', { params: { path: { id } } })),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  const [history, setHistory] = useState<History>();
  const [stored, setStored] = useState<{ document: CircuitDoc; version: number }>();
  useEffect(() => {
    if (!begun.data) return;
    setHistory({ past: [], now: begun.data.document, future: [] });
    setStored(begun.data);
  }, [begun.data]);

  const change = useCallback((make: (doc: CircuitDoc) => CircuitDoc) => {
    setHistory((h) => {
      if (!h) return h;
      const next = make(h.now);
      return JSON.stringify(next) === JSON.stringify(h.now) ? h : { past: [...h.past, h.now], now: next, future: [] };
    });
  }, []);
  const undo = useCallback(
    () =>
      setHistory((h) => {
        const last = h?.past.at(-1);
        return h && last ? { past: h.past.slice(0, -1), now: last, future: [h.now, ...h.future] } : h;
      }),
    [],
  );
  const redo = useCallback(
    () =>
      setHistory((h) => {
        const [next, ...future] = h?.future ?? [];
        return h && next ? { past: [...h.past, h.now], now: next, future } : h;
      }),
    [],
  );

  const save = useMutation({
    mutationFn: (body: { document: CircuitDoc; version: number }) =>
      ask(api.PUT('/api/circuits/{id}/document', { params: { path: { id } }, body })),
    // What was sent is what is stored; the answer may name the same fields in another order.
    onSuccess: ({ version }, sent) => setStored({ document: sent.document, version }),
  });
  const { mutate, isPending, error } = save;
  const doc = history?.now;
  const open =
    doc !== undefined &&
    stored !== undefined &&
    doc !== stored.document &&
    JSON.stringify(doc) !== JSON.stringify(stored.document);
  const conflict = error instanceof ApiError && error.status === 409;
  // What failed is not sent again until something changes, and a conflict not at all.
  const failed = useRef<CircuitDoc | undefined>(undefined);
  useEffect(() => {
    if (error) failed.current = doc;
    // Only the moment of the failure matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [error]);
  useEffect(() => {
    if (!open || isPending || conflict || failed.current === doc) return;
    const timer = setTimeout(() => mutate({ document: doc, version: stored.version }), PAUSE);
    return () => clearTimeout(timer);
  }, [open, isPending, conflict, doc, stored, mutate]);

  // Closing the page in the half second before a change is stored asks first.
  useEffect(() => {
    if (!open) return;
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [open]);

  // The diagram of a changed circuit keeps the order of the last that was shown.
  const shown = useRef<string>(undefined);
  const checked = useQuery({
    queryKey: ['check', doc],
    queryFn: () =>
      ask(api.POST('/api/circuits/check', { body: { document: doc as CircuitDoc, before: shown.current } })),
    enabled: doc !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const shape = checked.data?.drawing?.shape;
  useEffect(() => {
    if (shape) shown.current = shape;
  }, [shape]);
  return {
    loading: begun.isPending,
    error: begun.error ?? error,
    conflict,
    doc,
    version: stored?.version,
    saved: !open,
    checked: checked.data,
    canUndo: (history?.past.length ?? 0) > 0,
    canRedo: (history?.future.length ?? 0) > 0,
    change,
    undo,
    redo,
  };
}
