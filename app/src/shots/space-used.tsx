import { useQuery } from '@tanstack/react-query';
import { useReferenceBytes } from '../store/references.ts';
import { useSourceBytes } from '../store/sources.ts';

/** How much of the browser's room is used. */
export function SpaceUsed() {
  const estimate = useQuery({
    queryKey: ['shots', 'space'],
    queryFn: () => navigator.storage?.estimate?.() ?? null,
  });
  const used = estimate.data?.usage;
  const room = estimate.data?.quota;
  const files = useSourceBytes().data ?? 0;
  const films = useReferenceBytes().data ?? 0;
  if (used === undefined || room === undefined) return null;
  return (
    <p className="soft">
      {megabytes(used)} MB of {(room / 1e9).toFixed(1)} GB that the browser offers are used
      {files > 0 &&
        `, ${megabytes(files)} MB of it by files of characters, which go with the last shot that uses them`}
      {films > 0 && `, ${megabytes(films)} MB by films beside shots, which go with their shot`}. Shots stay in
      this browser until you remove them; save what matters to a file too.
    </p>
  );
}

const megabytes = (bytes: number): string => (bytes < 1e5 ? 'less than 0.1' : (bytes / 1e6).toFixed(1));
