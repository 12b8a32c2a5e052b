// Before a dangerous act one is warned once more; doing it all the same is possible, as at a real machine.
import { App } from 'antd';
import { useCallback, useRef } from 'react';

import type { Action, AttemptView } from '../../api/client';

type Act = AttemptView['dangers'][number]['act'];

/** The dangerous act that an action is, if it is one. */
function danger(attempt: AttemptView, action: Action): Act | undefined {
  switch (action.do) {
    case 'join':
      return action.fused ? undefined : 'join_unfused';
    case 'take_reading':
      return action.function === 'dc_amps' ? 'amps' : undefined;
    case 'take_apart':
      return attempt.drawing.parts.some((p) => p.id === action.what && p.is_source) ? 'battery_off' : undefined;
    case 'set_control':
      return action.position === 'on the block' ? 'open_spark' : undefined;
    default:
      return undefined;
  }
}

/** Asks before the first act of each kind, and does the rest at once. */
export function useCaution(attempt: AttemptView | undefined) {
  const { modal } = App.useApp();
  const warned = useRef(new Set<Act>());
  return useCallback(
    (action: Action): Promise<boolean> => {
      const act = attempt && danger(attempt, action);
      const text = attempt?.dangers.find((d) => d.act === act)?.text;
      if (!act || !text || warned.current.has(act)) return Promise.resolve(true);
      return new Promise((answer) => {
        modal.confirm({
          title: 'Caution',
          content: text,
          okText: 'Do it all the same',
          okButtonProps: { danger: true },
          cancelText: 'Leave it',
          onOk: () => {
            warned.current.add(act);
            answer(true);
          },
          onCancel: () => answer(false),
        });
      });
    },
    [attempt, modal],
  );
}
