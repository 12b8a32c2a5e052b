// Choosing a file to be taken in.
import type { ReactNode } from 'react';

type Props = {
  id: string;
  accept: string;
  className?: string;
  onText: (text: string) => Promise<void>;
  children: ReactNode;
};

export function FileButton({ id, accept, className, onText, children }: Props) {
  return (
    <label className={className} style={{ cursor: 'pointer' }}>
      {children}
      <input
        id={id}
        type="file"
        accept={accept}
        className="visually-hidden"
        onChange={(e) => {
          const file = e.target.files?.[0];
          // The same file may be chosen again once it is mended.
          e.target.value = '';
          if (file) void file.text().then(onText);
        }}
      />
    </label>
  );
}
