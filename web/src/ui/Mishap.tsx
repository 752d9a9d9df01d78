import { Component, type ReactNode } from "react";
import { Button } from "./controls";

/** When a room cannot be drawn, it says so and offers the way back; what was kept on the server is safe. */
export class Mishap extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    if (!this.state.error) return this.props.children;
    return (
      <div className="p-8">
        <h1 className="font-title text-xl">This room cannot be drawn</h1>
        <p className="mt-2 max-w-prose text-soft">
          {this.state.error.message}. Everything that was kept is safe; open the room again, or reload the page.
        </p>
        <Button className="mt-3" onClick={() => this.setState({ error: null })}>
          Open it again
        </Button>
      </div>
    );
  }
}
