package body

// Lengths of the jointed body as shares of height. Limb lengths, hip and
// shoulder height: Drillis and Contini, as given by Winter, Biomechanics and
// Motor Control of Human Movement (from memory). Trunk shape: measured on
// trial drawings of this product.
const (
	upperArmLength = 0.186
	foreArmLength  = 0.146
	handLength     = 0.090 // to the fingertips of a relaxed hand
	thighLength    = 0.245
	shankLength    = 0.246
	ankleHeight    = 0.039
	hipHalfWidth   = 0.050
	shoulderHalf   = 0.108

	lumbarLength   = 0.112
	thoracicLength = 0.168
	cervicalLength = 0.066
)

// Numbers of vertebrae that each region's bend is spread over, and the resting
// curves of standing in degrees (forward positive). Measured bends are
// deviations from these.
const (
	lumbarCount   = 5
	thoracicCount = 12
	cervicalCount = 7
	vertebraCount = lumbarCount + thoracicCount + cervicalCount

	sacrumRest   = 9.0
	lumbarRest   = -26.0
	thoracicRest = 34.0
	cervicalRest = -18.0
)

// Masses as shares of body mass: Winter, table 4.1, after Dempster (from
// memory). One arm is 0.050 and one leg 0.161; the whole sums to 1.
const (
	massHand     = 0.006
	massForeArm  = 0.016
	massUpperArm = 0.028
	massFoot     = 0.0145
	massShank    = 0.0465
	massThigh    = 0.100
	massHead     = 0.081
	massThorax   = 0.216
	massAbdomen  = 0.139
	massPelvis   = 0.142
)

// Centres of mass from the proximal end as shares of segment length: Winter,
// table 4.1 (from memory). The hand's is taken at half its length.
const (
	centreForeArm  = 0.430
	centreUpperArm = 0.436
	centreShank    = 0.433
	centreThigh    = 0.433
	centreHand     = 0.5
	centreFoot     = 0.5
)
