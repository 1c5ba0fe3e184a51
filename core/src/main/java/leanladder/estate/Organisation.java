package leanladder.estate;

import java.time.ZoneId;
import java.util.Optional;

/** The organisation as a whole: its name, its region where one is known, and the zone in which it counts days. */
public record Organisation(String name, Optional<String> region, ZoneId zone) {}
