package leanladder.estate;

/**
 * Seats of a plan that were bought together (resolution.md, section 6).
 *
 * @param seats how many, 0 or more; 1 or more where the file lists purchases
 * @param window while it holds, they can be given out
 */
public record Purchase(int seats, TimeWindow window) {}
