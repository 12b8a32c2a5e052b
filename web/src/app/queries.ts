// What the page asks the server, and how: at once, whether or not the browser thinks that there is a network.
// One who is cut off is told so, and does it again; nothing waits in silence to be sent later.
import { QueryClient } from '@tanstack/react-query';

export function newQueries(): QueryClient {
  return new QueryClient({
    defaultOptions: {
      queries: { retry: 1, refetchOnWindowFocus: false, networkMode: 'always' },
      mutations: { networkMode: 'always' },
    },
  });
}
