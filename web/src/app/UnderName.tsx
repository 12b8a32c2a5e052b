// Keeping something under a name: a button that becomes a field.
import { Button, Input, Space, type InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';

type Props = {
  id: string;
  /** What the button says. */
  text: string;
  label: string;
  placeholder: string;
  /** What stands in the field at first. */
  name: string;
  disabled?: boolean;
  /** Whether it was kept. */
  onKeep: (name: string) => Promise<boolean>;
};

export function UnderName({ id, text, label, placeholder, name: first, disabled, onKeep }: Props) {
  const [name, setName] = useState<string>();
  const field = useRef<InputRef>(null);
  const naming = name !== undefined;
  // The button that was pressed is gone: whoever works by keyboard goes on in the field that took its place.
  useEffect(() => {
    if (naming) field.current?.focus();
  }, [naming]);
  const keep = async () => {
    const as = name?.trim();
    if (as && (await onKeep(as))) setName(undefined);
  };
  if (!naming) {
    return (
      <Button id={`keep-${id}`} disabled={disabled} onClick={() => setName(first)}>
        {text}
      </Button>
    );
  }
  return (
    <Space.Compact>
      <Input
        ref={field}
        id={`${id}-name`}
        aria-label={label}
        placeholder={placeholder}
        maxLength={60}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onPressEnter={(e) => {
          e.preventDefault();
          void keep();
        }}
      />
      <Button id={`keep-${id}-now`} type="primary" disabled={name.trim() === ''} onClick={() => void keep()}>
        Keep
      </Button>
      <Button onClick={() => setName(undefined)}>Not now</Button>
    </Space.Compact>
  );
}
