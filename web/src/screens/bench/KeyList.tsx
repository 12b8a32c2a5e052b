// The list of keys.
import { Button, Modal } from 'antd';

import { BINDINGS } from './keys';
import './KeyList.css';
import { useFirstMinute } from './useFirstMinute';

export function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
  const first = useFirstMinute();
  const begin = () => {
    onClose();
    first.begin();
  };
  return (
    <Modal title="Keys" open={open} onCancel={onClose} footer={null}>
      <table className="sheet-table">
        <tbody>
          {BINDINGS.map(({ shown, about }) => (
            <tr key={shown}>
              <td className="key-cell">
                <kbd>{shown}</kbd>
              </td>
              <td>{about}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        <Button onClick={begin}>Show the first minute at a bench</Button>
      </p>
      {first.error && <p className="error-line">{first.error}</p>}
    </Modal>
  );
}
