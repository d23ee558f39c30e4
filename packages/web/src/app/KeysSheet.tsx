import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { keySheet, useKeys } from './keys.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setUnit, toggleKeys } from './uiSlice.ts';

/** All keys on one sheet. */
export function KeysSheet() {
  const dispatch = useAppDispatch();
  const { keysOpen, unit } = useAppSelector((s) => s.ui);
  useKeys({ '?': () => dispatch(toggleKeys()), m: () => dispatch(setUnit(unit === 'mm' ? 'in' : 'mm')) });
  return (
    <Dialog
      open={keysOpen}
      onClose={() => dispatch(toggleKeys())}
      // keys are left to a dialog while it is open; this one closes by the key that opens it
      onKeyDown={(e) => e.key === '?' && dispatch(toggleKeys())}
      maxWidth="sm"
      fullWidth
    >
      <DialogTitle sx={{ fontSize: 18, fontWeight: 600 }}>Keys</DialogTitle>
      <DialogContent>
        <table className="keyTable">
          <tbody>
            {keySheet.map((k) => (
              <tr key={k.keys}>
                <td>
                  <span className="key wide">{k.keys}</span>
                </td>
                <td>{k.does}</td>
                <td className="quiet">{k.where}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </DialogContent>
    </Dialog>
  );
}
