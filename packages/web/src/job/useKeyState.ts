import { routes } from '@kivram/contract/routes';
import { useQuery } from '@tanstack/react-query';
import { call } from '../api';

/** How it stands with the key; nothing over the network, where nobody is told. */
export const useKeyState = (isHere: boolean) =>
  useQuery({ queryKey: ['key'], queryFn: () => call(routes.keyState), enabled: isHere });
