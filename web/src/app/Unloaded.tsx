// What stands in the place of a screen whose code could not be had: the network is cut, or a newer program was installed
// meanwhile. What was loaded before goes on.
import { Button } from 'antd';
import { Component, useEffect, useState, type ReactNode } from 'react';
import { Link } from 'react-router';

/** How often it is looked whether the server can be reached again. */
const LOOK_MS = 3000;

type Props = { at: string; children: ReactNode };
type State = { failed?: string };

/** Catches that a screen could not be loaded. Another address is another try. */
export class Loaded extends Component<Props, State> {
  state: State = {};

  static getDerivedStateFromError(error: unknown): State {
    return { failed: error instanceof Error ? error.message : String(error) };
  }

  componentDidUpdate(before: Props) {
    if (before.at !== this.props.at && this.state.failed) this.setState({ failed: undefined });
  }

  render() {
    return this.state.failed ? <Unloaded why={this.state.failed} /> : this.props.children;
  }
}

/** Whether the server answers. */
async function answers(): Promise<boolean> {
  try {
    return (await fetch('/health', { cache: 'no-store' })).ok;
  } catch {
    return false;
  }
}

function Unloaded({ why }: { why: string }) {
  const [tried, setTried] = useState(0);
  const again = async () => {
    if (await answers()) window.location.reload();
    else setTried((n) => n + 1);
  };
  useEffect(() => {
    const look = () => void answers().then((there) => there && window.location.reload());
    const timer = setInterval(look, LOOK_MS);
    window.addEventListener('online', look);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', look);
    };
  }, []);
  return (
    <main className="page" tabIndex={-1}>
      <h1>This page could not be loaded</h1>
      <p role="status">
        The server cannot be reached{tried > 0 && ` (tried ${tried === 1 ? 'once' : `${tried} times`})`}. What was done
        before is kept; as soon as the server answers, this page comes by itself.
      </p>
      <p>
        <Button type="primary" onClick={() => void again()}>
          Try again
        </Button>{' '}
        <Link to="/">To the start</Link>
      </p>
      <p className="quiet">{why}</p>
    </main>
  );
}
