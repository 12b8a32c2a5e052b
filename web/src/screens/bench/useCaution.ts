// Before a dangerous act one is warned once more; doing it all the same is possible, as at a real machine.
import { App } from 'antd';
import { useCallback, useRef } from 'react';

import type { Action, AttemptView } from '../../api/client';

type Warning = AttemptView['warnings'][number];

/** The warning that is meant for an action, if there is one. */
export function warningOf(warnings: Warning[], action: Action): Warning | undefined {
  const given: Record<string, unknown> = { ...action };
  const holds = (of: Record<string, unknown>) => Object.entries(of).every(([field, value]) => given[field] === value);
  return warnings.find((w) => w.before.some(holds));
}

/** Asks before the first act of each kind, and does the rest at once. */
export function useCaution(attempt: AttemptView | undefined) {
  const { modal } = App.useApp();
  const warned = useRef(new Set<Warning['act']>());
  return useCallback(
    (action: Action): Promise<boolean> => {
      const warning = attempt && warningOf(attempt.warnings, action);
      if (!warning || warned.current.has(warning.act)) return Promise.resolve(true);
      return new Promise((answer) => {
        modal.confirm({
          title: 'Caution',
          content: warning.text,
          okText: 'Do it all the same',
          okButtonProps: { danger: true },
          // Enter by habit leaves it.
          autoFocusButton: 'cancel',
          cancelText: 'Leave it',
          onOk: () => {
            warned.current.add(warning.act);
            answer(true);
          },
          onCancel: () => answer(false),
        });
      });
    },
    [attempt, modal],
  );
}
