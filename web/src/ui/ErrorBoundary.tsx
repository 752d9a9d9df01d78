import { Component, type ReactNode } from "react";
import { Button } from "./controls";
import { TEXT } from "./texts";

/** When a room cannot be drawn, it says so and offers the way back; what was kept on the server is safe. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    if (!this.state.error) return this.props.children;
    return (
      <div className="p-8">
        <h1 className="font-title text-xl">{TEXT.thisRoomCannotBe}</h1>
        <p className="mt-2 max-w-prose text-soft">{TEXT.everythingThatWasKept(this.state.error.message)}</p>
        <Button className="mt-3" onClick={() => this.setState({ error: null })}>
          {TEXT.openItAgain}
        </Button>
      </div>
    );
  }
}
