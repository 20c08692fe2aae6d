/** A body cut open, with the distance from its seat to the sensor marked. */
export function FlangeDrawing() {
  return (
    <svg viewBox="0 0 150 96" width="150" height="96" role="img" aria-label="From the mount face to the sensor">
      <path className="flange-body" d="M40 30h6v-8h86v72H46v-8h-6v-12h6V42h-6z" />
      <path className="flange-room" d="M46 42h58v32H46z" />
      <path className="flange-sensor" d="M104 40v36" />
      <path className="flange-axis" d="M18 58h104" />
      <path className="flange-dimension" d="M40 26V8M104 38V8M40 12h64M45 9l-5 3 5 3M99 9l5 3-5 3" />
    </svg>
  );
}
