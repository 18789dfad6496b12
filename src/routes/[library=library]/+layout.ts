export const load = ({ params }) => ({ library: params.library });
