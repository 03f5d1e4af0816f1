import { Button } from "react-bootstrap";

/** A small action within a row. */
export const act = (label: string, does: () => void) => (
  <Button
    size="sm"
    variant="link"
    onClick={(event) => {
      event.stopPropagation();
      does();
    }}
  >
    {label}
  </Button>
);
