package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.catalogue.ValueType;
import leanladder.estate.Account;
import leanladder.estate.Target;
import leanladder.reach.Directory;
import leanladder.resolve.Outcome;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/**
 * Settings whose values are people, asked from both ends (resolution.md, section 2): whom an account admits, and who admits it. Both go
 * through units and groups; the second looks at the few different values that a setting has, however many accounts there are.
 */
public record AdmissionRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final String ADMITS = "admits";
    private static final String ADMITTED = "admitted";

    /** A target in the value of an account, with how many active accounts it holds. */
    public record AdmittedTarget(String target, String name, int accounts) {}

    /**
     * A setting whose values are people, for one account.
     *
     * @param value the targets that it admits, by name
     * @param admits how many active accounts these hold, the account itself aside
     * @param admitted how many other active accounts admit it
     * @param policy the policy that decides; none where it is the built-in value
     */
    public record AdmissionSetting(
            String setting,
            String title,
            Optional<String> app,
            List<AdmittedTarget> value,
            int admits,
            int admitted,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> policy) {}

    /** All settings whose values are people, for one account. */
    public record Admissions(List<AdmissionSetting> settings) {}

    /** Somebody at the other end. @param by the targets through which it is so, in words */
    public record AdmissionLine(String account, String displayName, String unit, String by) {}

    /** A page of those at the other end, by name. */
    public record AdmissionPage(int accounts, List<AdmissionLine> people, Optional<String> next) {}

    /** What targets are called; those that do not exist are left out. */
    public record TargetNames(Map<String, String> names) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/accounts/{id}/admissions", this::all, Admissions.class);
        routeRegistry.get("/accounts/{id}/admissions/{setting}", this::people, AdmissionPage.class);
        routeRegistry.get("/target-names", this::names, TargetNames.class);
    }

    private Response all(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Account account = active(queryContext, requestContext.path("id"));
        List<AdmissionSetting> settings = new ArrayList<>();
        for (Setting setting : queryContext.estate().catalogue().settings().values()) {
            if (!(setting.type() instanceof ValueType.PeopleType)) continue;
            Outcome outcome = queryContext.instantResolution().climber(account).outcome(setting);
            settings.add(new AdmissionSetting(
                    setting.key(),
                    setting.title(),
                    queryContext.app(setting),
                    targets(outcome.value()).stream()
                            .map(target -> told(target, queryContext))
                            .toList(),
                    admits(outcome.value(), account, queryContext).getCardinality(),
                    admitting(setting, account, queryContext).getCardinality(),
                    outcome.policy().flatMap(queryContext.estate()::policy).map(p -> p.name())));
        }
        return Response.of(new Admissions(settings));
    }

    private static AdmittedTarget told(Target target, QueryContext queryContext) {
        return new AdmittedTarget(
                target.text(),
                queryContext.estateFormatter().target(target),
                DirectoryTables.active(
                        queryContext.directory(), queryContext.directory().holding(target)));
    }

    private Response people(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("way", "limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Account account = active(queryContext, requestContext.path("id"));
        Setting setting = queryContext.setting(requestContext.path("setting"));
        if (!(setting.type() instanceof ValueType.PeopleType))
            throw ProblemException.wrongInput("The values of “" + setting.title() + "” are no people.");
        boolean admits = queryParameters
                .word("way", List.of(ADMITS, ADMITTED))
                .orElse(ADMITS)
                .equals(ADMITS);
        Directory directory = queryContext.directory();
        Map<Integer, String> by = new LinkedHashMap<>();
        RoaringBitmap which;
        if (admits) {
            Value value = queryContext
                    .instantResolution()
                    .climber(account)
                    .outcome(setting)
                    .value();
            which = admits(value, account, queryContext);
            List<Account> page = AccountPage.parse(queryParameters).parse(directory.byName(which));
            for (Account one : page)
                by.put(directory.number(one.id()), words(value, directory.number(one.id()), queryContext));
        } else {
            which = admitting(setting, account, queryContext);
            int number = directory.number(account.id());
            queryContext
                    .instantResolution()
                    .columnResolver()
                    .column(setting.key())
                    .inForce()
                    .forEach((value, accounts) -> RoaringBitmap.and(accounts, which)
                            .forEach((int n) -> by.put(n, words(value, number, queryContext))));
        }
        if (queryParameters.isCsv())
            return Response.of(AccountPage.csv(
                    directory.byName(which),
                    directory,
                    new AccountPage.Extra("by", a -> by.getOrDefault(directory.number(a.id()), ""))));
        List<Account> all = directory.byName(which);
        AccountPage page = AccountPage.parse(queryParameters);
        return Response.of(new AdmissionPage(
                all.size(),
                page.parse(all).stream()
                        .map(a -> new AdmissionLine(
                                a.id(),
                                a.displayName(),
                                AccountPage.place(directory, a.unit()),
                                by.getOrDefault(directory.number(a.id()), "")))
                        .toList(),
                page.next(all)));
    }

    private static Account active(QueryContext queryContext, String id) {
        Account account = queryContext.account(id);
        if (!account.active())
            throw ProblemException.refused(
                    409, "Deactivated", account.displayName() + " is deactivated and has no settings.");
        return account;
    }

    private static List<Target> targets(Value value) {
        return ((Value.ListValue) value)
                .items().stream().flatMap(text -> Target.parse(text).stream()).toList();
    }

    /** Everyone whom a value admits, but for the account whose it is. */
    private static RoaringBitmap admits(Value value, Account account, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        RoaringBitmap admitted = new RoaringBitmap();
        targets(value).forEach(target -> admitted.or(directory.holding(target)));
        admitted.and(directory.active());
        admitted.remove(directory.number(account.id()));
        return admitted;
    }

    /** Everyone else whose value admits an account. */
    private static RoaringBitmap admitting(Setting setting, Account account, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        int number = directory.number(account.id());
        RoaringBitmap admitting = new RoaringBitmap();
        queryContext
                .instantResolution()
                .columnResolver()
                .column(setting.key())
                .inForce()
                .forEach((value, accounts) -> {
                    if (targets(value).stream().anyMatch(target -> directory.holds(target, number)))
                        admitting.or(accounts);
                });
        admitting.remove(number);
        return admitting;
    }

    /** By which targets of a value an account is admitted. */
    private static String words(Value value, int account, QueryContext queryContext) {
        return targets(value).stream()
                .filter(target -> queryContext.directory().holds(target, account))
                .map(target -> target instanceof Target.AccountTarget
                        ? "by name"
                        : "by " + queryContext.estateFormatter().target(target))
                .collect(Collectors.joining(", "));
    }

    private Response names(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("targets"), Set.of());
        QueryContext queryContext = queries.read(queryParameters);
        Map<String, String> names = new LinkedHashMap<>();
        for (String text : queryParameters.required("targets").split(","))
            Target.parse(text)
                    .filter(queryContext.estate()::has)
                    .ifPresent(target ->
                            names.put(text, queryContext.estateFormatter().target(target)));
        return Response.of(new TargetNames(names));
    }
}
