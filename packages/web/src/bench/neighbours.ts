export { TagsInput } from '@mantine/core';
