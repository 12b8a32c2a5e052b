// The list of keys.
import { Modal } from 'antd';

import { BINDINGS } from './keys';
import './KeyList.css';

export function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
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
    </Modal>
  );
}
