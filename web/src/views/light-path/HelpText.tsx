/** How the drawing is read. */
export default function HelpText() {
  return (
    <>
      <p>
        The section is cut through the sensor’s diagonal and drawn to scale; glass inside a lens is schematic. Above it
        stands what the lens needs, over what is there. The strip below magnifies the place of the mount face of the
        lens: the line in the middle is where the lens should stand, the curve where it does stand, the bands how far it
        may be off at each stop and still be sharp at infinity.
      </p>
      <p>
        Two lines that meet, are bridged, stand apart, broken or crossed: that is the grade, from native to danger.
        Every number opens its working.
      </p>
      <p>
        Power off for every swap, and never force a thread or a bayonet. Conversions and electrical work belong with a
        qualified repairer.
      </p>
    </>
  );
}
