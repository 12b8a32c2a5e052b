// Something of the page whose questions to the API are answered by the test.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { vi } from 'vitest';

import { api } from '../api/client';

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';
export type Sent = { method: Method; path: string; id?: unknown; body?: unknown };
type Init = { params?: { path?: { id?: unknown } }; body?: unknown } | undefined;

/** Renders it; what changes something is put on the list that is given back. `reads` answers by path. */
export function served(
  what: ReactNode,
  reads: Record<string, unknown> = {},
  writes: Record<string, unknown> = {},
): Sent[] {
  const sent: Sent[] = [];
  for (const method of ['GET', 'POST', 'PUT', 'DELETE'] as const) {
    vi.spyOn(api, method).mockImplementation(((path: string, init: Init) => {
      if (method === 'GET') return Promise.resolve({ data: reads[path], response: new Response() });
      sent.push({ method, path, id: init?.params?.path?.id, body: init?.body });
      const refused = writes[path] instanceof Error ? { detail: writes[path].message } : undefined;
      return Promise.resolve(
        refused
          ? { error: refused, response: new Response(null, { status: 400 }) }
          : { data: writes[path], response: new Response(null, { status: 200 }) },
      );
    }) as never);
  }
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>{what}</MemoryRouter>
    </QueryClientProvider>,
  );
  return sent;
}
