// Handing in, after a look at what is still missing.
import { App } from 'antd';
import { useNavigate } from 'react-router';

import type { AttemptView } from '../../api/client';
import type { AtWork } from './useBench';

export function useHandIn(id: number, attempt: AttemptView, act: AtWork['act']) {
  const navigate = useNavigate();
  const { modal } = App.useApp();
  const marked = attempt.purpose === 'marks';
  return (missing = attempt.bench.missing) => {
    modal.confirm({
      title: marked ? 'Hand in?' : 'Finish?',
      content: (
        <>
          {missing.length > 0 && (
            <ul id="missing" aria-label="Still missing">
              {missing.map((text) => (
                <li key={text}>{text}</li>
              ))}
            </ul>
          )}
          After that nothing more can be done on this bench, and{' '}
          {marked ? 'it is marked' : 'you can go through it step by step'}.
        </>
      ),
      okText: marked ? 'Hand in' : 'Finish',
      okButtonProps: { id: 'confirm-hand-in' },
      cancelText: 'Not yet',
      onOk: async () => {
        if (await act({ do: 'hand_in' })) void navigate(`/attempts/${id}/sheet`);
      },
    });
  };
}
