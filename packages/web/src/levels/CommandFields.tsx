import type { NamedCommand } from '@kivram/contract/entities/command';
import { routes } from '@kivram/contract/routes';
import { Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { call } from '../api';
import { Problem } from '../parts/Problem';

interface Props {
  name: string;
  choose(name: string): void;
  /** a job names it, and nobody has allowed it here yet */
  isWaiting: boolean;
}

/** What a file with one command looks like. */
const example = `{ "commands": [
  { "name": "roof probe", "program": "/usr/local/bin/probe", "arguments": "--json\\n10.0.0.2" }
] }`;

/** What is run, as one would type it: an argument with a blank in it stands between marks. */
function lineOf({ program, arguments: text }: NamedCommand): string {
  const list = text.split('\n').filter(Boolean);
  return [program, ...list.map((argument) => (/\s/.test(argument) ? JSON.stringify(argument) : argument))].join(' ');
}

/** A command of this computer: chosen by its name, with what it runs in sight. */
export function CommandFields({ name, choose, isWaiting }: Props) {
  const commands = useQuery({ queryKey: ['commands'], queryFn: () => call(routes.commands) });
  if (!commands.data) return <Problem error={commands.error} />;
  const { file, commands: known, trouble } = commands.data;
  const chosen = known.find((command) => command.name === name);
  if (!file) return <p className="caution">No commands are run here: they are for “npm start”.</p>;
  return (
    <div className="levels-fields">
      {trouble && <p className="problem">{trouble}</p>}
      <Select
        label="Command"
        placeholder={known.length ? 'choose one' : 'none yet'}
        data={known.map((command) => command.name)}
        value={chosen?.name ?? null}
        onChange={(value) => value && choose(value)}
        allowDeselect={false}
        w={300}
      />
      {name && !chosen && (
        <p className="caution">
          This job asks for “{name}”, which this computer does not have. Write it into the file below, or choose
          another.
        </p>
      )}
      {chosen && (
        <p className={isWaiting ? 'caution' : 'note'} style={{ flex: '1 1 100%' }}>
          {isWaiting && 'This job asks for it, and nobody has allowed it here: “Read by this” allows it for this end. '}
          What runs is <code>{lineOf(chosen)}</code>, again and again, without a shell. It must print JSON or a bare
          figure.
        </p>
      )}
      <p className="note" style={{ flex: '1 1 100%' }}>
        Commands are written into <code>{file}</code>, which nobody but you may write; arguments one a line:
      </p>
      <pre className="note">{example}</pre>
    </div>
  );
}
