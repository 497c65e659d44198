import { Gone } from './jobs/[id]/gone';

const NotFound = () => <Gone head="There is nothing here." why="The address is not complete, or it is an old one." />;

export default NotFound;
