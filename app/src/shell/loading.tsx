/** Shown while a route's code comes. */
export function Loading() {
  return (
    <div className="page soft" role="status">
      One moment…
    </div>
  );
}
