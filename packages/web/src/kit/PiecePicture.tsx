import { useEffect, useState } from 'react';
import { tokens } from '../app/tokens.ts';
import { useAppSelector } from '../app/store.ts';
import { PictureRoom } from './PictureRoom.ts';
import { pictureOf } from '../shelf/Portrait.tsx';

/** A small picture of a mesh. */
export default function PiecePicture({ hash, name }: { hash: string; name: string }) {
  const scheme = useAppSelector((s) => s.ui.scheme);
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    let here = true;
    void pictureOf(hash, tokens[scheme].clay, scheme === 'dark')
      .then((u) => here && setUrl(u))
      .catch(() => undefined);
    return () => void (here = false);
  }, [hash, scheme]);
  return <PictureRoom aria-hidden={url === null}>{url && <img src={url} alt={name} />}</PictureRoom>;
}
