/** What a list of choices says that has none. */
export default function NothingToChoose() {
  return <>Nothing to choose from</>;
}
