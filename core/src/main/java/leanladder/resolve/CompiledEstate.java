package leanladder.resolve;

import java.time.Instant;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.preview.ConsentIndex;
import leanladder.reach.AccountReach;
import leanladder.reach.Directory;
import leanladder.seat.Entitlements;
import leanladder.seat.SeatLedger;
import org.roaringbitmap.RoaringBitmap;

/** An estate prepared for questions: the directory compiled, statements gathered by setting. Independent of the instant. */
public final class CompiledEstate {
    private final Estate estate;
    private final Directory directory;
    private final SeatLedger seatLedger;
    private final StatementIndex statementIndex;
    /** The consents of everybody that were worked out last; shared by all grounds of one directory. */
    private final AtomicReference<ConsentIndex> consents;

    /** Prepares an estate. Linear in the estate. */
    public CompiledEstate(Estate estate) {
        this(estate, new Directory(estate));
    }

    private CompiledEstate(Estate read, Directory directory) {
        this(
                read.withHolders(Map.of()),
                directory,
                SeatLedger.from(read, directory),
                StatementIndex.compute(read.policies()),
                new AtomicReference<>());
    }

    private CompiledEstate(
            Estate estate,
            Directory directory,
            SeatLedger seatLedger,
            StatementIndex statementIndex,
            AtomicReference<ConsentIndex> consents) {
        this.estate = estate;
        this.directory = directory;
        this.seatLedger = seatLedger;
        this.statementIndex = statementIndex;
        this.consents = consents;
    }

    /** The same estate under other policies; the directory is shared. */
    public CompiledEstate withPolicies(List<Policy> policies, List<String> ranking) {
        Estate edited = estate.withPolicies(policies, ranking);
        return new CompiledEstate(edited, directory, seatLedger, statementIndex.with(edited.policies()), consents);
    }

    /** The same estate with an edited directory, see {@link Directory#with}. */
    public CompiledEstate withDirectory(Estate edited, Directory compiled) {
        return new CompiledEstate(
                edited,
                compiled,
                seatLedger,
                statementIndex.with(edited.policies()),
                compiled == directory ? consents : new AtomicReference<>());
    }

    /** The same for an estate whose directory is the same. */
    public CompiledEstate withEstate(Estate edited) {
        return new CompiledEstate(edited, directory, seatLedger, statementIndex.with(edited.policies()), consents);
    }

    /** The same estate with another ledger. */
    public CompiledEstate withLedger(SeatLedger moved) {
        return new CompiledEstate(estate, directory, moved, statementIndex, consents);
    }

    /** The same estate once every seat that is free has been given out at an instant; from then on its ledger moves. */
    public CompiledEstate withSeatsGiven(Instant at) {
        Set<String> plans = new HashSet<>();
        estate.plans().forEach(p -> plans.add(p.id()));
        return withLedger(seatLedger.reallocate(seats(at), plans, at).ledger());
    }

    /** Everybody's consents that count at an instant. Linear in those who have given some, unless they are known already. */
    ConsentIndex consents(Instant at) {
        ConsentIndex known = consents.get();
        if (known != null && known.holdAt(at)) return known;
        ConsentIndex read = ConsentIndex.compute(directory, directory.active(), at);
        consents.set(read);
        return read;
    }

    /** Takes over the consents of the estate before, where they are known there, but for some accounts that are others. */
    void patchConsents(CompiledEstate before, Instant at, RoaringBitmap accounts) {
        ConsentIndex known = before.consents.get();
        if (known != null && known.holdAt(at)) consents.set(known.patched(directory, at, accounts));
    }

    /** Who holds which seat. */
    public SeatLedger seatLedger() {
        return seatLedger;
    }

    /** Who is seated and who waits at an instant; allocates every plan. */
    public Entitlements seats(Instant at) {
        return new Entitlements(estate.plans(), directory, seatLedger, at);
    }

    /** What one account may use at an instant up to which the seats have passed on, see {@link Entitlements#ofOne}. */
    public Entitlements seatsOf(Account account, Instant at) {
        return Entitlements.ofOne(estate.plans(), directory, seatLedger, directory.number(account.id()), at);
    }

    public Estate estate() {
        return estate;
    }

    public Directory directory() {
        return directory;
    }

    /** The same for some plans only. */
    public Entitlements seats(Set<String> plans, Instant at) {
        return new Entitlements(
                estate.plans().stream().filter(p -> plans.contains(p.id())).toList(), directory, seatLedger, at);
    }

    /** Every statement on the setting, in the ranking of policies. */
    public List<RankedStatement> statementsOn(String setting) {
        return statementIndex.on(setting).all();
    }

    /** The ranks of those policies that could reach an account, for they name it or what holds it. */
    BitSet policyTargetIndex(AccountReach accountReach) {
        return statementIndex.policyTargetIndex().among(accountReach);
    }

    /** The same, with what every climb asks of them in columns of their own. */
    StatementColumns statementColumns(String setting) {
        return statementIndex.on(setting);
    }

    /** Every setting that could come out otherwise in some workspace (resolution.md, section 5, "depends on the workspace"). */
    public Set<String> touchedByWorkspaces(Instant at) {
        Set<String> touched = new HashSet<>();
        Set<String> hosted = new HashSet<>(estate.catalogue().asking(Need.Hosting.class));
        hosted.addAll(estate.catalogue().asking(Need.WorkspaceRole.class));
        for (Setting setting : estate.catalogue()
                .withDependencies(estate.catalogue().settings().keySet())) {
            boolean here = hosted.contains(setting.key())
                    || setting.openToWorkspaces() && hasWorkspaceStatement(setting.key(), at)
                    || estate.catalogue().dependencies(setting.key()).stream().anyMatch(touched::contains);
            if (here) touched.add(setting.key());
        }
        return touched;
    }

    private boolean hasWorkspaceStatement(String setting, Instant at) {
        return statementsOn(setting).stream()
                .filter(s -> s.policy().live())
                .flatMap(s -> s.policy().assignments().stream())
                .anyMatch(
                        a -> a.include() && a.place().isPresent() && a.window().holds(at));
    }

    /** Whether hosting of one size is as large as another asks for. */
    boolean isAtLeast(String size, String wanted) {
        List<String> sizes = estate.catalogue().sizes();
        return sizes.indexOf(size) >= sizes.indexOf(wanted);
    }

    /** Whether a need that asks nothing of the account is met: hosting and region. */
    Optional<Boolean> isMetForAll(Need need, EvaluationContext evaluationContext) {
        if (need instanceof Need.Region region)
            return Optional.of(estate.organisation()
                    .region()
                    .filter(region.regions()::contains)
                    .isPresent());
        if (need instanceof Need.Hosting hosting)
            return Optional.of(evaluationContext
                    .workspace()
                    .flatMap(estate::workspace)
                    .map(estate::hostingOf)
                    .map(h ->
                            h.running() && isAtLeast(h.size(), hosting.size()) && (hosting.allowTrial() || !h.trial()))
                    .orElse(true));
        return Optional.empty();
    }
}
