/** The name of a worker for operations that may have helpers: where several such workers share the processors none may. */
export const HELPED = "helped";
