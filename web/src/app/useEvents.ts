// What a server goes on telling: the latest of it, and whether it is heard. A lost connection comes back by itself.
import { useEffect, useState } from 'react';

export function useEvents<T>(path: string | undefined): { latest?: T; heard: boolean } {
  const [latest, setLatest] = useState<T>();
  const [heard, setHeard] = useState(true);
  useEffect(() => {
    if (!path) return;
    const source = new EventSource(path);
    // A browser that is cut off may hold the connection for long without a word.
    const cut = () => setHeard(false);
    const back = () => setHeard(source.readyState === EventSource.OPEN);
    window.addEventListener('offline', cut);
    window.addEventListener('online', back);
    source.onopen = () => setHeard(true);
    source.onerror = () => setHeard(false);
    source.onmessage = (message: MessageEvent<string>) => {
      setHeard(true);
      setLatest(JSON.parse(message.data) as T);
    };
    return () => {
      window.removeEventListener('offline', cut);
      window.removeEventListener('online', back);
      source.close();
    };
  }, [path]);
  return { latest, heard };
}
