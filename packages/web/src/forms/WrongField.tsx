/** What holds the button beside it back. */
export const WrongField = ({ wrong }: { wrong: string | null }) =>
  wrong !== null && (
    <p className="foot unclear" role="status">
      {wrong}
    </p>
  );
