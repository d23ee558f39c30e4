import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import { sizeText } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../app/Boundary.tsx';
import { useChooseVariantMutation } from '../app/kitApi.ts';
import { useLength } from '../app/useLength.ts';
import { PictureRoom } from './PictureRoom.ts';
import { Block } from '../ui/layout.ts';

const PiecePicture = lazyPart(() => import('./PiecePicture.tsx'), <PictureRoom />);

const Forms = styled('div')({ display: 'flex', flexWrap: 'wrap', gap: 8 });

const Form = styled(ButtonBase)({
  display: 'grid',
  justifyItems: 'center',
  padding: '6px 8px',
  border: '1px solid var(--line)',
  borderRadius: 3,
  '&[aria-pressed=true]': { borderColor: 'var(--verdigris)', background: 'var(--verdigrisGround)' },
});

/** Forms of one thing side by side: one is printed and the others are set aside, or all are. */
export function Variants({ kit }: { kit: KitView }) {
  const length = useLength();
  const [choose] = useChooseVariantMutation();
  return (
    <>
      {kit.variants.map((group) => {
        const pieces = group.ids.flatMap((id) => kit.pieces.filter((p) => p.id === id));
        const printed = pieces.filter((p) => p.aside === null);
        return (
          <Block key={group.ids.join()} aria-label={`Forms of ${group.name}`}>
            <div className="label accent">{group.decided ? 'Decided' : 'Which one is printed?'}</div>
            <b>{group.name}</b>
            <Forms>
              {pieces.map((p) => (
                <Form
                  key={p.id}
                  aria-pressed={group.decided && p.aside === null}
                  onClick={() => void choose({ projectId: kit.projectId, ids: group.ids, chosen: p.id })}
                >
                  <PiecePicture hash={p.meshHash} name="" />
                  <span>{p.name}</span>
                  <span className="figure">{sizeText(p.size, length)}</span>
                </Form>
              ))}
            </Forms>
            {!(group.decided && printed.length === pieces.length) && (
              <Button variant="text" onClick={() => void choose({ projectId: kit.projectId, ids: group.ids })}>
                All of them are printed
              </Button>
            )}
          </Block>
        );
      })}
    </>
  );
}
