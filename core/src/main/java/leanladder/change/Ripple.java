package leanladder.change;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.resolve.Column;
import leanladder.resolve.Ground;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Share;
import leanladder.resolve.Solution;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a change alters: the in-force values before and after, for everybody. Only the settings that the edits touch, and those
 * worked out from them, are solved; the two solutions are compared share by share, never person by person.
 */
public final class Ripple {
    /** How a value changed. */
    public enum Effect {
        /** It got looser on an ordered setting. */
        GAIN,
        /** It got stricter on an ordered setting. */
        LOSE,
        /** It changed otherwise. */
        OTHER
    }

    /** Accounts whose value of one setting changes in the same way. */
    public record Move(Setting setting, Value from, Value to, Effect effect, RoaringBitmap accounts) {}

    private final List<Move> moves = new ArrayList<>();
    private final RoaringBitmap changed = new RoaringBitmap();
    private final RoaringBitmap gaining = new RoaringBitmap();
    private final RoaringBitmap losing = new RoaringBitmap();
    private final RoaringBitmap decidedElsewhere = new RoaringBitmap();

    /**
     * Compares two states of the same directory and catalogue.
     *
     * @param touched keys of the settings on which the edits have a word
     */
    public Ripple(Ground before, Ground after, Question question, Set<String> touched) {
        Solution was = new Solution(before, question);
        Solution willBe = new Solution(after, question, was.entitlements());
        for (Setting setting : before.estate().catalogue().withDependents(touched))
            compare(setting, was.column(setting.key()), willBe.column(setting.key()));
        decidedElsewhere.andNot(changed);
    }

    private void compare(Setting setting, Column was, Column willBe) {
        for (Map.Entry<Value, RoaringBitmap> from : was.inForce().entrySet()) {
            for (Map.Entry<Value, RoaringBitmap> to : willBe.inForce().entrySet()) {
                if (from.getKey().equals(to.getKey())) continue;
                RoaringBitmap accounts = RoaringBitmap.and(from.getValue(), to.getValue());
                if (accounts.isEmpty()) continue;
                Effect effect = effect(setting, from.getKey(), to.getKey());
                moves.add(new Move(setting, from.getKey(), to.getKey(), effect, accounts));
                changed.or(accounts);
                if (effect == Effect.GAIN) gaining.or(accounts);
                if (effect == Effect.LOSE) losing.or(accounts);
            }
        }
        for (Share<Outcome> from : was.shares())
            for (Share<Outcome> to : willBe.shares())
                if (from.what().value().equals(to.what().value())
                        && !from.what().equals(to.what()))
                    decidedElsewhere.or(RoaringBitmap.and(from.accounts(), to.accounts()));
    }

    private static Effect effect(Setting setting, Value from, Value to) {
        return setting.strictness()
                .map(s -> s.isLooser(to, from) ? Effect.GAIN : Effect.LOSE)
                .orElse(Effect.OTHER);
    }

    /** Every way in which a value changes, by setting after those it depends on. */
    public List<Move> moves() {
        return moves;
    }

    /** Everyone whose in-force value of some setting changes. Not to be changed, like all sets here. */
    public RoaringBitmap changed() {
        return changed;
    }

    /** Everyone with no change of value for whom another statement decides, or the standing differs. */
    public RoaringBitmap decidedElsewhere() {
        return decidedElsewhere;
    }

    /** Whether the account gains, loses, does both, or changes otherwise. The four parts add up to {@link #changed()}. */
    public Optional<Effect> effectOn(int account) {
        boolean gains = gaining.contains(account);
        boolean loses = losing.contains(account);
        if (gains && loses) return Optional.empty();
        return Optional.of(gains ? Effect.GAIN : loses ? Effect.LOSE : Effect.OTHER);
    }

    /** Those who gain and do not lose. A fresh set. */
    public RoaringBitmap gainOnly() {
        return RoaringBitmap.andNot(gaining, losing);
    }

    /** Those who lose and do not gain. A fresh set. */
    public RoaringBitmap loseOnly() {
        return RoaringBitmap.andNot(losing, gaining);
    }

    /** Those who gain in one setting and lose in another. A fresh set. */
    public RoaringBitmap both() {
        return RoaringBitmap.and(gaining, losing);
    }

    /** Those who neither gain nor lose. A fresh set. */
    public RoaringBitmap otherOnly() {
        return RoaringBitmap.andNot(changed, RoaringBitmap.or(gaining, losing));
    }
}
