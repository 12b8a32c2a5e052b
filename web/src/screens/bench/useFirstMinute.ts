// The first minute at a bench: it is begun, or begun anew, and offered to whoever has not begun anything.
import { useState } from 'react';
import { useNavigate } from 'react-router';

import { api, ask, sentenceOf } from '../../api/client';
import { useMe } from '../../app/me';

export function useFirstMinute() {
  const navigate = useNavigate();
  const [error, setError] = useState('');
  const begin = async () => {
    setError('');
    try {
      const { attempt } = await ask(api.POST('/api/first-minute'));
      void navigate(`/attempts/${attempt}`);
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return { begin: () => void begin(), error };
}

/** Whether it is still to be offered to whoever is signed in: on a shared machine each is asked for themselves. */
export function useOffered(): [boolean, () => void] {
  const me = useMe().data;
  const key = `cimento.first-minute.${me?.id ?? 0}`;
  const [declined, setDeclined] = useState(false);
  const decline = () => {
    window.localStorage.setItem(key, 'known');
    setDeclined(true);
  };
  return [!!me && !declined && window.localStorage.getItem(key) === null, decline];
}
