import { Modal, Table } from '@mantine/core';

const keyList: [string, string][] = [
  ['1 to 7', 'the steps of a link: path, radio, bench, mount, aim, prove, record'],
  ['/, Ctrl+K', 'find a place, a radio, an address, a step, and go there'],
  ['j', 'the job'],
  ['n', 'plan a new link (on the job)'],
  ['m', 'the map (on the job)'],
  ['a, o, z', 'map: add a place, note something in the way, undo a move; Esc gives up'],
  ['s', 'network, spec sheet: save'],
  ['p, s, t', 'bench: propose settings, save them, let the stand-in pair try'],
  ['← →', 'aim: tap a notch, or say which way you turn'],
  ['space', 'aim: I stand still'],
  ['l', 'aim: locked'],
  ['u', 'metric or imperial'],
  ['d', 'day or night'],
  ['?', 'these keys'],
];

/** Every key that does something. */
export function KeysDialog({ onClose }: { onClose(): void }) {
  return (
    <Modal opened onClose={onClose} title="Keys" size="lg">
      <Table>
        <Table.Tbody>
          {keyList.map(([key, what]) => (
            <Table.Tr key={key}>
              <Table.Td>
                <kbd className="figure">{key}</kbd>
              </Table.Td>
              <Table.Td>{what}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Modal>
  );
}
