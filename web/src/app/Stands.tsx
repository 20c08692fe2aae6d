import Button from "antd/es/button";
import { Component, type ReactNode } from "react";

import { Failed } from "../parts/Failed";
import { useScreen } from "./screen";

interface Props {
  /** Of what screen this is: another one is tried anew. */
  at: string;
  children: ReactNode;
}

interface State {
  error: Error | null;
}

/** A screen, or what is said where its script cannot be fetched or it does not stand. */
export class Stands extends Component<Props, State> {
  override state: State = { error: null };

  static getDerivedStateFromError(error: unknown): State {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  override componentDidUpdate({ at }: Props) {
    if (at !== this.props.at && this.state.error) this.setState({ error: null });
  }

  override render() {
    const { error } = this.state;
    return error ? <Fallen error={error} /> : this.props.children;
  }
}

/** What could not be loaded once does not load again by itself: the page is. */
function Fallen({ error }: { error: Error }) {
  useScreen({ title: "", answer: "no screen", className: "message" });
  const again = () => window.location.reload();
  if (/module|preload/i.test(error.message)) return <Failed error={error} onRetry={again} />;
  return (
    <div className="message" role="alert" data-state="fallen">
      <h1>This screen could not be drawn.</h1>
      <p>{`What was kept is kept. It says: ${error.message}`}</p>
      <p className="message-actions">
        <Button type="primary" onClick={again}>
          Try again
        </Button>
      </p>
    </div>
  );
}
