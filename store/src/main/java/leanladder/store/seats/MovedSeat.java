package leanladder.store.seats;

/**
 * A seat that a change gave, or that was returned with it.
 *
 * @param granted since when it is held, as the estate file writes it
 * @param because why it was given or returned
 */
public record MovedSeat(String plan, String account, boolean given, String granted, String because) {}
