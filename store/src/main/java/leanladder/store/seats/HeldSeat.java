package leanladder.store.seats;

import java.util.Optional;

/**
 * A seat that somebody holds.
 *
 * @param granted as the estate file writes it
 * @param source the holder as a file writes it, JSON text, where that says more than account and instant
 * @param because why it was given
 */
public record HeldSeat(String plan, String account, String granted, Optional<String> source, String because) {}
