import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import { sizeText } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../app/Boundary.tsx';
import { useChooseVariantMutation } from '../app/kitApi.ts';
import { useLength } from '../app/useLength.ts';

const PiecePicture = lazyPart(() => import('./PiecePicture.tsx'), <span className="piecePicture" />);

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
          <section key={group.ids.join()} className="variantGroup" aria-label={`Forms of ${group.name}`}>
            <div className="label accent">{group.decided ? 'Decided' : 'Which one is printed?'}</div>
            <b>{group.name}</b>
            <div className="variants">
              {pieces.map((p) => (
                <ButtonBase
                  key={p.id}
                  className={`variant${group.decided && p.aside === null ? ' chosen' : ''}`}
                  aria-pressed={group.decided && p.aside === null}
                  onClick={() => void choose({ projectId: kit.projectId, ids: group.ids, chosen: p.id })}
                >
                  <PiecePicture hash={p.meshHash} name="" />
                  <span>{p.name}</span>
                  <span className="figure">{sizeText(p.size, length)}</span>
                </ButtonBase>
              ))}
            </div>
            {!(group.decided && printed.length === pieces.length) && (
              <Button variant="text" onClick={() => void choose({ projectId: kit.projectId, ids: group.ids })}>
                All of them are printed
              </Button>
            )}
          </section>
        );
      })}
    </>
  );
}
