/** A keyboard that comes up takes half of the screen: what is typed into stays in sight. */
export function keepFieldInSight() {
  const show = () => {
    const field = document.activeElement;
    if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement)
      field.scrollIntoView({ block: "nearest" });
  };
  window.visualViewport?.addEventListener("resize", show);
}
