import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { Tokens } from '../app/tokens.ts';
import { useAppDispatch } from '../app/store.ts';
import { stepTips, type ShownTips } from './benchSlice.ts';

/** Support tips on the part as it lies: the one that is looked at, those to come, and those that are ticked off. */
export function Tips({
  tips,
  onto,
  least,
  upTo,
  colours,
}: {
  tips: ShownTips;
  onto: (at: Triple) => Triple;
  /** radius of a dot, mm */
  least: number;
  /** tips higher up are not laid yet, mm */
  upTo: number;
  colours: Tokens;
}) {
  const dispatch = useAppDispatch();
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [tips, invalidate]);
  return (
    <>
      {tips.list.map(({ key, at, done }, i) => (
        <mesh
          key={key}
          position={onto(at)}
          visible={i === tips.at || onto(at)[2] <= upTo}
          renderOrder={2}
          onClick={(e) => {
            if (e.delta > 4) return;
            e.stopPropagation();
            dispatch(stepTips(i - tips.at));
          }}
        >
          <sphereGeometry args={[(i === tips.at ? 2 : 1) * least, 12, 8]} />
          <meshBasicMaterial
            color={i === tips.at ? colours.madder : done ? colours.ink3 : colours.verdigris}
            depthTest={i !== tips.at}
            transparent={i === tips.at}
          />
        </mesh>
      ))}
    </>
  );
}
